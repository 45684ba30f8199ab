import { expect, it } from "vitest";
import { PLAIN_LOOKS } from "../session/look-choices";
import { newBench } from "../session/store";
import { faceLooks } from "./differences";

it("lights pictures of one's own as normals where that is asked for, and patterns never", () => {
  const looks = (relief: boolean, swatch: typeof PLAIN_LOOKS.swatch) =>
    faceLooks(newBench({ ...PLAIN_LOOKS, relief, swatch }).getState()).relief;
  expect([looks(false, "letters"), looks(false, "own:1")]).toEqual([0, 0]);
  // With a pattern on the panes it is about the pictures of single parts alone.
  expect([looks(true, "letters"), looks(true, "own:1")]).toEqual([1, 2]);
});
