import { UP_WAYS } from "../../layout/up";

/** Which way of space counts as up: that of the asset, or of the part where it has one of its own; or another. */
export const UPS = ["as the asset", ...UP_WAYS] as const;
export type Up = (typeof UPS)[number];
