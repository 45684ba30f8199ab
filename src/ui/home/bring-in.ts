import { proxy } from "comlink";
import type { ReadFile } from "@/compute/describe-read";
import { startDocument } from "@/compute/document";
import type { Unit } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { restoreRemote, sendAsset } from "../session/remote";

/** Files of more than this together are not taken in. */
const MOST_BYTES = 512 * 1024 * 1024;

const isBackup = (f: File): boolean => f.name.toLowerCase().endsWith(".tavlin");

/** Reads what was dropped, in a worker that keeps it until it is wanted. */
export class Bringing {
  private readonly worker = startDocument();

  /** Backups are put back at once; meshes are read and shown. */
  async read(
    files: File[],
    progress: (share: number) => void,
  ): Promise<{ restored: number; read: readonly ReadFile[] }> {
    const meshes = files.filter((f) => !isBackup(f));
    if (meshes.reduce((n, f) => n + f.size, 0) > MOST_BYTES)
      throw new UserError("These files are over the limit of 512 MB together.");
    let restored = 0;
    for (const f of files.filter(isBackup)) restored += await restoreRemote(f);
    if (!meshes.length) return { restored, read: [] };
    const bytes = await Promise.all(
      meshes.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
    );
    const read = await this.worker.remote.read(bytes, proxy(progress));
    return { restored, read };
  }

  /** Puts one of the read assets on the server; returns its id. */
  async keep(index: number, unit: Unit): Promise<string> {
    return sendAsset(await this.worker.remote.encodeRead(index, unit));
  }

  stop(): void {
    this.worker.end();
  }
}
