import { create } from "zustand";
import type { PartId } from "@/core/layout/asset";
import type { OwnPicture } from "@/wire/answers";
import { deletePictureRemote, fetchPictures, sendPicture } from "./remote";
import { say } from "./say";
import type { Bench, Pane } from "./store";
import { type OwnSwatch, ownSwatch } from "./swatches";

/** The library of pictures, as last fetched; null while it is not known. */
export const usePictures = create<{ list: readonly OwnPicture[] | null }>(() => ({ list: null }));

export async function loadPictures(): Promise<void> {
  usePictures.setState({ list: await fetchPictures() });
}

/** Shows a picture in a pane: on one part, or in place of the swatch on all. */
export function showPicture(bench: Bench, pane: Pane, swatch: OwnSwatch, part: PartId | null): void {
  bench.setState((s) => ({
    view: { ...s.view, [pane]: "swatch" },
    ...(part === null ? { swatch } : { partSwatches: new Map([...s.partSwatches, [part, swatch]]) }),
  }));
}

/** Takes pictures into the library and shows the last of them. */
export async function addPictures(
  bench: Bench,
  pane: Pane,
  files: readonly File[],
  part: PartId | null,
): Promise<void> {
  try {
    let id = "";
    for (const file of files) id = await sendPicture(file);
    if (id) showPicture(bench, pane, ownSwatch(id), part);
    await loadPictures();
  } catch (error) {
    say(bench, (error as Error).message, "refused");
  }
}

/** Takes a picture out of the library; where it was shown the swatch of letters is shown again. */
export async function deletePicture(bench: Bench, id: string): Promise<void> {
  try {
    await deletePictureRemote(id);
    await loadPictures();
  } catch (error) {
    say(bench, (error as Error).message, "refused");
    return;
  }
  const gone = ownSwatch(id);
  bench.setState(({ swatch, partSwatches }) => ({
    swatch: swatch === gone ? "letters" : swatch,
    partSwatches: new Map([...partSwatches].filter(([, own]) => own !== gone)),
  }));
}
