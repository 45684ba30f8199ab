import type { FileOut } from "@/core/operations/operation";

const NUMBERED = "tavlin-number-files";

/** Whether files are written under names that count on. */
export const numbersFiles = (): boolean => localStorage.getItem(NUMBERED) === "yes";
export const setNumbersFiles = (on: boolean): void => localStorage.setItem(NUMBERED, on ? "yes" : "no");

/** Hands files to the browser as downloads. */
export async function saveFiles(files: readonly FileOut[]): Promise<void> {
  for (const file of files) {
    const url = URL.createObjectURL(new Blob([file.bytes as BlobPart], { type: file.type }));
    const link = document.createElement("a");
    link.href = url;
    link.download = file.name;
    document.body.append(link);
    link.click();
    link.remove();
    // The browser reads the bytes after the click returns.
    setTimeout(() => URL.revokeObjectURL(url), 60_000);
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
