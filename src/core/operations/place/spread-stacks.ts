import { z } from "zod";
import { parkBeside } from "../../layout/park";
import { UserError } from "../../layout/user-error";
import { around } from "../../place/box";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt, withShellsAt } from "./shells-at";
import { stacksAmong, wholeSet } from "./twins";

const options = z.object({});

/** Lays the shells of stacks side by side again. */
export const spreadStacks: EditOperation<z.infer<typeof options>> = {
  id: "spread-stacks",
  title: "Spread stacks",
  about: "Takes stacks apart: the first shell of each stays, the others lie in rows beside everything.",
  kind: "edit",
  stage: "place",
  heading: "Stacks",
  acts: "shells",
  options,
  run(asset, scope) {
    const shells = shellsAt(asset, scope);
    const moving = stacksAmong(shells).flatMap((list) => list.slice(1));
    if (!moving.length) throw new UserError("No two of these shells lie exactly on one another.");
    const { u1, v0 } = around(shellsAt(asset, wholeSet(asset, scope.set)).map((s) => s.box));
    const beside = { u1: Math.max(1, u1), v0: Math.min(0, v0) };
    const placed = parkBeside(
      moving.map((k) => shells[k]!.uv),
      1,
      beside,
    );
    const uvs: Array<Float64Array | null> = shells.map(() => null);
    moving.forEach((k, i) => {
      uvs[k] = placed[i]!;
    });
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Spread ${count(moving.length, "shell")} of stacks`,
      notes: [],
    };
  },
};
