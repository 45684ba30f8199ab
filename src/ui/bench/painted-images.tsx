import { Checkbox } from "@mantine/core";
import { useBench, useSession } from "../session/session-context";
import card from "./card.module.css";

/** Says that images are painted for the layout, and moves them along where that is wished for. */
export function PaintedImages() {
  const { bench } = useSession();
  const moves = useBench((s) => s.movesImages);
  return (
    <div className={card.painted}>
      <p>
        Images are painted for this layout.{" "}
        {moves ? "They are drawn anew for it with every step." : "What is moved comes off them."}
      </p>
      <Checkbox
        size="xs"
        label="Move the images too"
        title="Draws them anew for where the shells come to lie, with bleeding. The images as they were are kept: undo brings them back."
        checked={moves}
        onChange={(e) => bench.setState({ movesImages: e.currentTarget.checked })}
      />
    </div>
  );
}
