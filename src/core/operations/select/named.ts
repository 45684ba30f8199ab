import { z } from "zod";
import type { Asset } from "../../layout/asset";
import type { NamedSelection } from "../../layout/named-selection";
import { UserError } from "../../layout/user-error";

export const namedOptions = z.object({
  name: z.string().default("").meta({ title: "Selection", description: "One that was named", from: "selections" }),
});

/** The selection of a name. @throws UserError when there is none */
export function selectionNamed({ selections }: Asset, name: string): NamedSelection {
  const found = selections.find((s) => s.name === name);
  if (found) return found;
  if (!selections.length) throw new UserError("No selection has been named yet: pick something, then name it.");
  throw new UserError(name ? `There is no selection called ${name}.` : "Choose one of the named selections.");
}
