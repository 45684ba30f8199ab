"use client";

import { Checkbox } from "@mantine/core";
import { useState } from "react";
import { numbersFiles, setNumbersFiles } from "../session/save-files";
import { useBenchOf } from "../session/session-context";
import card from "./card.module.css";

/** What goes for every file written here. */
export function HandOffCard() {
  const { asset } = useBenchOf("asset");
  const [on, setOn] = useState(numbersFiles());
  const written = asset!.sets.filter((s) => s.exportAs !== null).sort((a, b) => a.exportAs! - b.exportAs!);
  return (
    <section className={card.card} aria-label="Files">
      <h3>Files</h3>
      <p>
        GLB takes {written.map((s) => s.name).join(", ")} as coordinate sets; OBJ and PLY hold one and take the target.
        Parts split for the work go out whole, merged ones under their own names.
      </p>
      <Checkbox
        size="xs"
        label="Number the files: asset_v001, asset_v002"
        checked={on}
        onChange={(e) => {
          setNumbersFiles(e.currentTarget.checked);
          setOn(e.currentTarget.checked);
        }}
      />
    </section>
  );
}
