import { describe, expect, it } from "vitest";
import { meshFromPolygons } from "../core/mesh/poly-mesh";
import { assetOf } from "../testing/assets";
import { contextFor } from "./context";

/** A strip of so many squares. */
const strip = (n: number) =>
  assetOf(
    meshFromPolygons(
      Array.from({ length: 2 * (n + 1) }, (_, i) => [i >> 1, i & 1, 0]).flat(),
      Array.from({ length: n }, (_, i) => [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1]),
    ),
  );

describe("work of the command line", () => {
  it("is done on threads where the asset is large, and here where starting them would take longer", async () => {
    expect(contextFor(strip(100)).context.pool).toBeUndefined();
    const large = strip(20_000);
    const { context, pool } = contextFor(large);
    const faults = await context.pool!.run("findFaults", large);
    expect([...faults.keys()]).toContain("borders");
    pool!.dispose();
  });
});
