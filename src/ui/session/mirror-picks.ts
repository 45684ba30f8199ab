import type { BenchSession } from "./bench-session";
import { say } from "./say";
import type { Bench } from "./store";

const AXES = ["x", "y", "z"] as const;

/** Mirrors picks across x, then y, then z, then not at all. */
export function nextMirror(bench: Bench): void {
  const { mirror } = bench.getState();
  const axis = mirror ? AXES[AXES.indexOf(mirror.axis) + 1] : AXES[0];
  bench.setState({ mirror: axis ? { axis, images: new Map() } : null });
  say(bench, axis ? `Looking for what mirrors across ${axis}…` : "Picks are not mirrored any more.");
}

/** Looks up the images of meshes that are not known yet. */
export async function lookUpImages(session: BenchSession): Promise<void> {
  const { bench } = session;
  const { mirror, asset } = bench.getState();
  if (!mirror || !asset) return;
  const wanted = [...asset.shapes.values()].filter((s) => !mirror.images.has(s.mesh));
  if (!wanted.length) return;
  const axis = AXES.indexOf(mirror.axis);
  const found = await session.lookUp((remote, revision) =>
    remote.mirrorImages(
      revision,
      wanted.map((s) => s.id),
      axis,
    ),
  );
  if (!found || bench.getState().mirror !== mirror) return;
  const images = new Map([...mirror.images, ...wanted.map((s, i) => [s.mesh, found[i]!] as const)]);
  bench.setState({ mirror: { ...mirror, images } });
  let [faces, mirrored] = [0, 0];
  for (const own of images.values()) {
    faces += own.faces.length;
    for (const image of own.faces) if (image >= 0) mirrored++;
  }
  if (!mirrored) say(bench, `Nothing here has another half across ${mirror.axis}.`, "warning");
  else
    say(
      bench,
      `Picks are mirrored across ${mirror.axis}: ${Math.round((100 * mirrored) / faces)} % of all faces have an image.`,
    );
}
