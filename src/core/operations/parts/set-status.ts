import { z } from "zod";
import { STATUSES } from "../../layout/asset";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  status: z.enum(STATUSES).default("done").meta({ title: "Status", description: "How far the work on them is" }),
});

/** Sets how far the work on the picked parts is. */
export const setStatus = partOperation({
  id: "set-status",
  title: "Status",
  about: "Sets how far the work on the picked parts is.",
  options,
  change: (part, { status }) => ({ ...part, status }),
  words: (picked, { status }) => `${count(picked.length, "part")}: ${status}`,
});
