/** What is written into; a list that is chosen from is an input as well, but nothing is written into it. */
const WRITTEN = "textarea, select, input:not([type=radio], [type=checkbox], [readonly])";
const PRESSED = "button, a, input, [role=button], [role=option], [role=menuitem]";

/** What arrow keys go about in: choices, lists, sliders, dividers, tables. */
const GONE_ABOUT =
  "input[type=radio], [role=radiogroup], [role=listbox], [role=tree], [role=slider], [role=separator], [role=tablist], [role=toolbar], [role=grid], [role=combobox], table";

/** Whether a key is an element's own, in whatever window that is: it is written into, presses a button, a link, an entry, or goes about in a list. */
export const keepsKey = (at: Element | null, key: string): boolean =>
  at !== null &&
  (at.matches(WRITTEN) ||
    ((key === "Enter" || key === " ") && at.closest(PRESSED) !== null) ||
    (key.startsWith("Arrow") && at.closest(GONE_ABOUT) !== null));
