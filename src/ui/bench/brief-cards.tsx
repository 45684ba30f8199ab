"use client";

import { Anchor, Button, SegmentedControl } from "@mantine/core";
import { useEffect } from "react";
import { type PartId, shapesOf } from "@/core/layout/asset";
import { faceCount } from "@/core/mesh/poly-mesh";
import type { SelectionKind } from "@/core/operations/operation";
import { clearSet, mendOfFault, setAside } from "@/core/operations/registry";
import { count } from "@/core/operations/words";
import { FAULTS, type FaultKind, type Faults, HARMLESS } from "@/core/prepare/faults";
import { refreshFaults, runOperation } from "../session/actions";
import { frameSelection, pickedOf, select, selectParts, setKind } from "../session/selection";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { type Bench, BRIEF_PAGES, type BriefPage } from "../session/store";
import card from "./card.module.css";
import { runOrAsk } from "./operation-form";
import { OperationRows } from "./operation-rows";

/** Picks the culprits of one kind, in both panes. */
function pickCulprits(bench: Bench, faults: Faults, kind: FaultKind): void {
  const byPart = faults.get(kind);
  if (!byPart) return;
  const { on } = FAULTS[kind];
  if (on === "parts") {
    setKind(bench, "faces");
    selectParts(bench, new Set<PartId>(byPart.keys()));
  } else {
    const picked = pickedOf(bench.getState().asset!, { kind: on as SelectionKind, items: byPart });
    select(bench, on as SelectionKind, picked, { rows: new Set(), lastEdge: null });
  }
  frameSelection(bench);
}

const NOUN: Record<string, string> = { edges: "edge", faces: "face", parts: "part" };

function culpritWords(kind: FaultKind, byPart: ReadonlyMap<string, Uint32Array>): string {
  const { on } = FAULTS[kind];
  if (on === "parts") return count(byPart.size, "part");
  let n = 0;
  for (const list of byPart.values()) n += list.length;
  const many = on === "vertices" ? `${n.toLocaleString("en")} ${n === 1 ? "vertex" : "vertices"}` : count(n, NOUN[on]!);
  return byPart.size > 1 ? `${many} on ${count(byPart.size, "part")}` : many;
}

function FaultLine({ faults, kind }: { faults: Faults; kind: FaultKind }) {
  const session = useSession();
  const { bench } = session;
  const byPart = faults.get(kind)!;
  const { op, options } = mendOfFault(kind);
  const mend = () => {
    pickCulprits(bench, faults, kind);
    runOrAsk(session, op, options);
  };
  return (
    <div className={card.fault} data-tone={HARMLESS.includes(kind) ? "plain" : "bad"}>
      <Anchor component="button" type="button" size="xs" ta="left" onClick={() => pickCulprits(bench, faults, kind)}>
        {FAULTS[kind].title}
      </Anchor>
      <span>{culpritWords(kind, byPart)}</span>
      <Button size="compact-xs" variant="light" onClick={mend} title={op.about}>
        {op.title}
      </Button>
    </div>
  );
}

/** What of the meshes hinders UV work: every line picks its culprits and offers the repair. */
function ReportCard() {
  const session = useSession();
  const { faults, asset } = useBenchOf("faults", "asset");
  useEffect(() => {
    if (!faults) void refreshFaults(session);
  }, [faults, asset?.shapes, asset?.parts]);
  const kinds = faults ? (Object.keys(FAULTS) as FaultKind[]).filter((k) => faults.has(k)) : [];
  const bad = kinds.filter((k) => !HARMLESS.includes(k));
  const faces = shapesOf(asset!).reduce((n, s) => n + faceCount(s.mesh), 0);
  return (
    <section className={card.card} aria-label="Report">
      <h3>
        {!faults
          ? "Looking the meshes over…"
          : bad.length
            ? `${count(bad.length, "fault")} to look at`
            : "Fit for UV work"}
      </h3>
      <p>
        {count(asset!.parts.length, "part")}, {count(faces, "face")}. Click a line to pick its elements in both panes.
      </p>
      {bad.map((kind) => (
        <FaultLine key={kind} faults={faults!} kind={kind} />
      ))}
      {kinds.length > bad.length && <p style={{ marginTop: 8 }}>For information; often intended:</p>}
      {kinds
        .filter((k) => HARMLESS.includes(k))
        .map((kind) => (
          <FaultLine key={kind} faults={faults!} kind={kind} />
        ))}
    </section>
  );
}

/** The layout the file came with: its figures, and what may become of it. */
function CameWithCard() {
  const session = useSession();
  const { summary, asset, set } = useBenchOf("summary", "asset", "set");
  if (!summary || !asset) return null;
  const name = asset.sets.find((s) => s.id === set)!.name;
  const hasLayout = summary.stretch !== null;
  return (
    <section className={card.card} aria-label="Layout in the target set">
      <h3>{hasLayout ? `Layout in ${name}` : `${name} has no layout yet`}</h3>
      {hasLayout ? (
        <>
          <p>
            {count(summary.shells, "shell")}, stretch {summary.stretch!.toFixed(3)},{" "}
            {Math.round(100 * (summary.coverage ?? 0))} % filled, {((summary.overlap ?? 0) * 100).toFixed(1)} %
            overlaps. Keep it, set it aside to try another against it, or clear it.
          </p>
          <Button size="compact-xs" variant="light" mr={6} onClick={() => void runOperation(session, setAside)}>
            Set aside
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => void runOperation(session, clearSet)}>
            Clear
          </Button>
        </>
      ) : (
        <p>Cut seams and unfold, or let Draft make a first layout.</p>
      )}
    </section>
  );
}

/** Brief: the report, work on parts, and files that come in later. */
export function BriefCards() {
  const { bench } = useSession();
  const page = useBench((s) => s.brief);
  return (
    <>
      <SegmentedControl
        size="xs"
        fullWidth
        value={page}
        onChange={(v) => bench.setState({ brief: v as BriefPage })}
        aria-label="Page of the brief"
        data={[...BRIEF_PAGES]}
      />
      {page === BRIEF_PAGES[0] && (
        <>
          <ReportCard />
          <CameWithCard />
        </>
      )}
      <OperationRows stage="brief" heading={page} />
    </>
  );
}
