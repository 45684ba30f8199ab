import { z } from "zod";
import { ratioOf, withSaid } from "../../layout/shell-marks";
import { middleOfBox } from "../../place/box";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt, withShellsAt } from "./shells-at";

const options = z.object({
  ratio: z
    .number()
    .min(0.05)
    .max(20)
    .default(1)
    .meta({
      title: "Ratio",
      description: "How dense they are to be, by what is common: 2 for twice, 0.5 for half",
      choices: [0.25, 0.5, 1, 2, 4],
    }),
});

/** Makes shells denser or coarser than what is common, for good. */
export const densityRatio: EditOperation<z.infer<typeof options>> = {
  id: "density-ratio",
  title: "Density ratio",
  about:
    "Makes shells denser or coarser than the others by a ratio, which Level and Pack keep, and Check does not blame.",
  kind: "edit",
  stage: "level",
  heading: "Density",
  acts: "shells",
  picks: true,
  drawnBefore: true,
  options,
  run(asset, scope, { ratio }) {
    const shells = shellsAt(asset, scope);
    const names = shells.map(({ shape, face }) => ({ shape: shape.id, face }));
    const uvs = shells.map(({ uv, box }, k) => {
      const by = ratio / ratioOf(asset, scope.set, names[k]!);
      const middle = middleOfBox(box);
      return uv.map((x, i) => middle[i % 2]! + by * (x - middle[i % 2]!));
    });
    const scaled = withShellsAt(asset, scope.set, shells, uvs);
    const said = names.map((shell) => ({ shell, say: { ratio } }));
    return {
      asset: { ...scaled, shellMarks: withSaid(asset, scope.set, said) },
      words: `Density ratio ${ratio} for ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};
