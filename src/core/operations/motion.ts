import { z } from "zod";

/** The way that something is moved in the sheet. */
export const shiftOptions = {
  du: z.number().default(0).meta({ title: "Move u", description: "To the right", unit: "tiles" }),
  dv: z.number().default(0).meta({ title: "Move v", description: "Upwards", unit: "tiles" }),
};

/** A shift with a turn and a scale. @param about what their middle is of, in words */
export const motionOptions = (about: string) => ({
  ...shiftOptions,
  turn: z.number().default(0).meta({ title: "Turn", description: "Counter-clockwise", unit: "°" }),
  scale: z
    .number()
    .min(1e-6)
    .max(1e6)
    .default(1)
    .meta({ title: "Scale", description: `About the middle of the ${about}` }),
});

/** What a motion does, in a word. */
export const motionWord = ({ turn, scale }: { readonly turn: number; readonly scale: number }): string =>
  turn ? "Turn" : scale !== 1 ? "Scale" : "Move";
