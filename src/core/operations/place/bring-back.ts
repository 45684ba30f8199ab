import { z } from "zod";
import { withSaid } from "../../layout/shell-marks";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { parkedBy, shellsAt, shifted, withShellsAt } from "./shells-at";

const options = z.object({});

/** Puts parked shells where they were. */
export const bringBack: EditOperation<z.infer<typeof options>> = {
  id: "bring-back",
  title: "Bring back",
  about:
    "Puts parked shells where they were before, those that are picked or all; what was done to them meanwhile stays done.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  options,
  run(asset, scope) {
    const shells = shellsAt(asset, scope).flatMap((own) => {
      const shell = { shape: own.shape.id, face: own.face };
      const parked = parkedBy(asset, scope.set, own);
      return parked ? [{ ...own, name: shell, parked }] : [];
    });
    if (!shells.length) throw new UserError("None of these shells is parked.");
    const uvs = shells.map(({ uv, parked: [u, v] }) => shifted(uv, [-u, -v]));
    const moved = withShellsAt(asset, scope.set, shells, uvs);
    const said = shells.map(({ name }) => ({ shell: name, say: { parked: undefined } }));
    return {
      asset: { ...moved, shellMarks: withSaid(asset, scope.set, said) },
      words: `Bring back ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};
