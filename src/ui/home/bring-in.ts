import { Engine } from "@/compute/engine";
import type { ReadFile } from "@/compute/protocol";
import type { Unit } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { restoreRemote, sendAsset } from "../bench/remote";

/** Files of more than this together are not taken in. */
const MOST_BYTES = 512 * 1024 * 1024;

const isBackup = (f: File): boolean => f.name.toLowerCase().endsWith(".tavlin");

/** Reads what was dropped, in a worker that keeps it until it is wanted. */
export class Bringing {
  private readonly engine = new Engine();

  /** Backups are put back at once; meshes are read and told of. */
  async read(
    files: File[],
    progress: (share: number) => void,
  ): Promise<{ restored: number; read: readonly ReadFile[] }> {
    if (files.reduce((n, f) => n + f.size, 0) > MOST_BYTES)
      throw new UserError("These files are over the limit of 512 MB together.");
    let restored = 0;
    for (const f of files.filter(isBackup)) restored += await restoreRemote(await f.arrayBuffer());
    const meshes = files.filter((f) => !isBackup(f));
    if (!meshes.length) return { restored, read: [] };
    const bytes = await Promise.all(
      meshes.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
    );
    const { value } = await this.engine.run<"read">({ type: "read", files: bytes }, progress);
    return { restored, read: value };
  }

  /** Puts one of the read assets on the server; answers its id. */
  async keep(index: number, unit: Unit): Promise<string> {
    const { value } = await this.engine.run<"encode">({ type: "encode", index, unit });
    return sendAsset(value);
  }

  stop(): void {
    this.engine.dispose();
  }
}
