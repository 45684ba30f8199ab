import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { stackedOn } from "./stacks";

const boxes = (list: ReadonlyArray<readonly [number, number, number, number]>) => Float64Array.from(list.flat());

describe("shells stacked on one another", () => {
  it("are told by their distance, wherever they lie: no border of a cell parts two", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 3, noNaN: true }),
        fc.double({ min: -9e-6, max: 9e-6, noNaN: true }),
        (u, d) => {
          const twin = stackedOn(
            boxes([
              [u, 0.2, u + 0.1, 0.3],
              [u + d, 0.2, u + 0.1 + d, 0.3],
              [u + 0.5, 0.2, u + 0.6, 0.3],
            ]),
            Float64Array.of(0.01, 0.01, 0.01),
          );
          expect([...twin]).toEqual([0, 0, 2]);
        },
      ),
    );
  });

  it("are none when areas differ in one box, and one pile through several", () => {
    const box: [number, number, number, number] = [0.1, 0.1, 0.4, 0.4];
    expect([...stackedOn(boxes([box, box]), Float64Array.of(0.09, 0.06))]).toEqual([0, 1]);
    expect([...stackedOn(boxes([box, [0, 0, 1, 1], box, box]), Float64Array.of(0.09, 1, 0.09, 0.09))]).toEqual([
      0, 1, 0, 0,
    ]);
  });
});
