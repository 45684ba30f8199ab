import { Button, Group, NativeSelect } from "@mantine/core";
import { useMemo } from "react";
import { STRETCH_KINDS, type StretchKind, worstTriangle } from "@/core/check/triangle-stretch";
import { lookAtWorst } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import classes from "./pane.module.css";

const WORDS: Record<StretchKind, string> = { area: "area", angle: "angles", both: "the larger of both" };
const LIMITS = [1.05, 1.1, 1.25, 1.5, 2, 4];

/** What a change of scale is, in words. */
function worstWords(value: number): string {
  if (value === Number.POSITIVE_INFINITY) return "without area in Sheet";
  return `${value < 1 ? "squeezed to" : "stretched"} × ${value.toPrecision(3)}`;
}

/** The stretch scale with its numbers, always in view while stretch is; what it shows and how far it reaches. */
export function StretchLegend() {
  const session = useSession();
  const { bench } = session;
  const { stretchKind, stretchLimit, stretch } = useBenchOf("stretchKind", "stretchLimit", "stretch");
  const worst = useMemo(() => worstTriangle(stretch), [stretch]);
  const show = (kind: StretchKind) => {
    bench.setState({ stretchKind: kind });
    session.measure();
  };
  return (
    <div className={classes.legend}>
      <Group gap={6} wrap="nowrap">
        Stretch of
        <NativeSelect
          size="xs"
          aria-label="What stretch shows"
          value={stretchKind}
          onChange={(e) => show(e.currentTarget.value as StretchKind)}
          data={STRETCH_KINDS.map((kind) => ({ value: kind, label: WORDS[kind] }))}
        />
        up to
        <NativeSelect
          size="xs"
          aria-label="Limit of the stretch view"
          value={String(stretchLimit)}
          onChange={(e) => bench.setState({ stretchLimit: Number(e.currentTarget.value) })}
          data={LIMITS.map((x) => ({ value: String(x), label: `× ${x}` }))}
        />
      </Group>
      <div className={classes.scale} data-kind={stretchKind} />
      <div className={classes.numbers}>
        {stretchKind !== "angle" && <span>{(1 / stretchLimit).toFixed(2)} squeezed</span>}
        <span>{stretchKind === "angle" ? "1, angles kept" : "1"}</span>
        <span>
          {stretchKind === "angle" ? "sheared" : "stretched"} {stretchLimit}
        </span>
      </div>
      {worst && (
        <Button size="compact-xs" variant="default" fw={400} mb={2} onClick={() => lookAtWorst(session.bench, worst)}>
          Worst face: {worstWords(worst.value)}
        </Button>
      )}
    </div>
  );
}
