import { Looks } from "./look-choices";

/** Where the browser keeps it. */
const KEY = "tavlin-looks";

/** How the bench looked when an asset was left last: the next is begun with it. */
export function keptLooks(): Looks {
  try {
    return Looks.parse(JSON.parse(localStorage.getItem(KEY)!));
  } catch {
    return Looks.parse({});
  }
}

/** @param looks may hold more; only what is known is kept */
export function keepLooks(looks: Looks): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(Looks.parse(looks)));
  } catch {
    // A browser that keeps nothing begins as the application comes.
  }
}
