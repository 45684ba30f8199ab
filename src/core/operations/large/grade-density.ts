import { type Asset, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, structureOf } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { trianglesOf } from "../../mesh/triangulate";
import { type FalloffCurve, falloffWeights } from "../../select/falloff";
import { layoutArea } from "../../unfold/area";
import { gradedLayout } from "../../unfold/graded";
import type { Context, EditResult, Note, Scope } from "../operation";
import { facesInScope } from "../scope";
import { count } from "../words";
import { newLayouts } from "./new-layouts";
import { type LaidShell, laidShells, stretchOfAll } from "./straightened-shells";

interface GradeInput {
  readonly by: number;
  readonly along: "both ways" | "across" | "upwards";
  readonly radius: number;
  readonly curve: FalloffCurve;
}

/** Grades the density of picked faces. */
export function run(asset: Asset, scope: Scope, input: GradeInput, context: Context): EditResult {
  const picked = new Map(facesInScope(asset, scope).map(({ shape, faces }) => [shape.id, new Set<number>(faces)]));
  const touched = laidShells(asset, scope).filter((own) => facesOf(own).some((f) => picked.get(own.shape.id)?.has(f)));
  const notes: Note[] = [];
  const work = touched.flatMap((own, i) => {
    context.progress(i / touched.length);
    const to = graded(own, picked.get(own.shape.id)!, input);
    if (to) return [{ ...own, to }];
    const words = `Shell ${own.shell + 1} of ${own.shape.name} stays as it is: faces would turn over; widen the falloff or ask for less.`;
    notes.push({ words, shells: [{ shape: own.shape.id, face: facesOf(own)[0]! }] });
    return [];
  });
  if (!work.length) throw new UserError(notes[0]?.words ?? "These faces have no coordinates yet: unfold them first.");
  const roomOf = (points: (own: (typeof work)[number]) => Float64Array): number =>
    work.reduce((sum, own) => sum + Math.abs(layoutArea(own.form.triangles, points(own))), 0);
  const room = roomWords(
    roomOf((own) => own.uv),
    roomOf((own) => own.to),
  );
  const [before, after] = stretchOfAll(work);
  const changes = newLayouts(
    work.map(({ to, ...own }) => ({ ...own, uv: to })),
    scope.set,
  );
  return {
    asset: withLayouts(asset, changes),
    words: `Grade ${count(work.length, "shell")}: ${room}, stretch ${before.toFixed(3)} to ${after.toFixed(3)}`,
    notes,
  };
}

const facesOf = ({ shape, layout, shell }: LaidShell): number[] => [
  ...facesOfShell(structureOf(shape.mesh, layout), shell),
];

function roomWords(was: number, is: number): string {
  const percent = 100 * (is / was - 1);
  return `${Math.abs(percent).toFixed(1)} % ${percent > 0 ? "more" : "less"} room`;
}

/** The shell with its picked faces graded; null where faces would turn over. */
function graded(own: LaidShell, picked: ReadonlySet<number>, { by, along, radius, curve }: GradeInput) {
  const { shape, layout, form, uv } = own;
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const t = trianglesOf(mesh);
  const faces = facesOf(own);
  const sources = new Set<number>();
  for (const f of faces)
    if (picked.has(f)) for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) sources.add(s.cornerWedge[c]!);
  const { wedges, weights } = falloffWeights(mesh, layout, sources, { radius, curve });
  const weight = new Map(Array.from(wedges, (w, i) => [w, weights[i]!] as const));
  const factors = new Float64Array(form.triangles.length / 3);
  let at = 0;
  for (const f of faces)
    for (let k = t.faceStart[f]!; k < t.faceStart[f + 1]!; k++, at++) {
      let mean = 0;
      for (let c = 0; c < 3; c++) mean += (weight.get(form.wedges[form.triangles[3 * at + c]!]!) ?? 0) / 3;
      const share = picked.has(f) ? 1 : radius > 0 ? mean : 0;
      factors[at] = by ** share;
    }
  const even = new Float64Array(factors.length).fill(1);
  const held = Uint8Array.from(form.wedges, (w) => (getBit(layout.pinned, w) ? 1 : 0));
  return gradedLayout(
    form,
    uv,
    { across: along === "upwards" ? even : factors, upwards: along === "across" ? even : factors },
    held,
  );
}
