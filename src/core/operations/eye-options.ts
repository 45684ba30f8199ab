import { z } from "zod";
import { UserError } from "../layout/user-error";
import { length3 } from "../numeric/length";

const way = (axis: string) =>
  z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(0)
    .meta({ title: axis, description: "Of the way from the asset to who looks, in world space" });

/** The way from the asset to who looks; the interface fills it in. */
export const eyeOptions = z.object({ x: way("x"), y: way("y"), z: way("z") });

/** That way at length 1. @throws UserError where none is given */
export function eyeWay({ x, y, z: up }: z.infer<typeof eyeOptions>): readonly [number, number, number] {
  const length = length3(x, y, up);
  if (!(length > 0)) throw new UserError("Say from where the asset is looked at: x, y and z of the way to the eye.");
  return [x / length, y / length, up / length];
}
