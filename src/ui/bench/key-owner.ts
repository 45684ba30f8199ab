/** What is written into; a list that is chosen from is an input as well, but nothing is written into it. */
const WRITTEN = "textarea, select, input:not([type=radio], [type=checkbox], [readonly])";
const PRESSED = "button, a, input, [role=option], [role=menuitem]";

/** Whether a key is an element's own, in whatever window that is: it is written into, or presses a button, a link, an entry. */
export const keepsKey = (at: Element | null, key: string): boolean =>
  at !== null && (at.matches(WRITTEN) || ((key === "Enter" || key === " ") && at.closest(PRESSED) !== null));
