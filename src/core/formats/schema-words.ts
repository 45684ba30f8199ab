import { z } from "zod";

// What a schema refuses, said in words for people. A schema's own messages speak of types and of "input".

/** A line of text that every place can hold: no control characters and no halves of surrogate pairs. */
export const plainText = (most: number, least = 0) =>
  z
    .string()
    .min(least)
    .max(most)
    // No lone halves of surrogate pairs, which no database takes.
    .refine((s) => !/\p{Surrogate}/u.test(s) && !s.includes("\0"));

/** A whole number as the database holds it. */
export const wholeNumber = z.number().int().min(0).max(0x7fffffff);

/** Where the first fault is and what it is, as the end of a sentence: "parts 0 name is too long". */
export function schemaWords(error: z.ZodError): string {
  const issue = error.issues[0]!;
  const place = issue.path.map(String).join(" ") || "it";
  switch (issue.code) {
    case "invalid_type":
      return `${place} is missing or of another kind`;
    case "too_big":
      return `${place} is too ${issue.origin === "string" || issue.origin === "array" ? "long" : "large"}`;
    case "too_small":
      return `${place} is too ${issue.origin === "string" || issue.origin === "array" ? "short" : "small"}`;
    case "invalid_value":
      return `${place} is none of the known values`;
    default:
      return `${place} is not as it should be`;
  }
}
