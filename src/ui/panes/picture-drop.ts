import type { BenchSession } from "../session/bench-session";
import { addPictures } from "../session/pictures";
import { say } from "../session/say";
import type { Pane } from "../session/store";
import type { Stage } from "../stage/stage";

const isPicture = (file: { type: string }): boolean => /^image\/(png|jpeg|webp)$/.test(file.type);

/**
 * Takes pictures that are dropped on a pane into the library, and shows the last: on the part it was dropped on, or beside
 * all parts on everything.
 *
 * @returns ends that
 */
export function takeDrops(element: HTMLElement, session: BenchSession, stage: Stage, pane: Pane): () => void {
  const over = (e: DragEvent) => {
    if (e.dataTransfer?.types.includes("Files")) e.preventDefault();
  };
  const drop = (e: DragEvent) => {
    e.preventDefault();
    const files = [...(e.dataTransfer?.files ?? [])];
    const pictures = files.filter(isPicture);
    if (!files.length) return;
    if (pictures.length < files.length) {
      say(session.bench, "A pane takes pictures: PNG, JPEG and WebP. Assets are dropped on Home.", "refused");
      return;
    }
    const frame = element.getBoundingClientRect();
    const seen = stage.faceAt(pane, e.clientX - frame.left, e.clientY - frame.top);
    void addPictures(session.bench, pane, pictures, seen?.part ?? null);
  };
  const ended = new AbortController();
  element.addEventListener("dragover", over, { signal: ended.signal });
  element.addEventListener("drop", drop, { signal: ended.signal });
  return () => ended.abort();
}
