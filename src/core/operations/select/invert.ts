import { z } from "zod";
import { type ShapeId, shapesOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { elementCount, flagsAt } from "../../select/grow";
import { allElements } from "../../select/stand-for";
import type { SelectOperation } from "../operation";
import { layoutOf } from "../scope";
import { elementWords } from "../words";

/** Picks everything visible but what is picked. */
export const invert: SelectOperation<Record<string, never>> = {
  id: "invert",
  title: "Pick: Invert",
  about: "Picks everything visible of the kind that is not picked, on all parts.",
  kind: "select",
  stage: "seams",
  heading: "Pick",
  key: "shift+I",
  fits: ["vertices"],
  acts: "asset",
  picks: true,
  near: true,
  options: z.object({}),
  run(asset, scope) {
    const { selection } = scope;
    if (!selection) throw new UserError("Pick something first.");
    const visible = new Set(scope.parts);
    const items = new Map<ShapeId, Uint32Array>();
    let total = 0;
    for (const shape of shapesOf(asset)) {
      if (!shape.parts.some((p) => visible.has(p.id))) continue;
      const all = allElements(shape.mesh, layoutOf(shape, scope.set), selection.kind).items();
      const picked = selection.items.get(shape.id);
      const flags = picked && flagsAt(picked, elementCount(shape.mesh, selection.kind));
      const rest = flags ? all.filter((i) => !flags[i]) : all;
      if (rest.length) items.set(shape.id, rest);
      total += rest.length;
    }
    return { selection: { kind: selection.kind, items }, words: `${elementWords(total, selection.kind)} picked.` };
  },
};
