import type { Asset } from "../src/core/layout/asset";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { brassBalance } from "./models/brass-balance";
import { gingerRoot } from "./models/ginger-root";
import { marketCart } from "./models/market-cart";
import { paperLantern } from "./models/paper-lantern";
import { pepperMill } from "./models/pepper-mill";

const quiet = { progress: () => {} };
const edit = async (asset: Asset, id: string, options: unknown = {}) =>
  (await runEdit(asset, id, options, everything(asset), quiet)).asset;

/**
 * The night market in the states an artist meets: the lantern has a finished layout, the mill is unfolded and waits to
 * be packed, the balance has seams only, the cart and the ginger root (over 50,000 faces) have nothing.
 */
export async function demoAssets(): Promise<Asset[]> {
  const lantern = await edit(paperLantern(), "draft");
  const mill = await edit(await edit(await edit(pepperMill(), "creased", { angle: 40 }), "open-up"), "unfold", {
    skip: true,
  });
  const balance = await edit(brassBalance(), "creased", { angle: 45 });
  return [mill, lantern, balance, marketCart(), gingerRoot()];
}
