"use client";

import { Anchor, Button } from "@mantine/core";
import { acceptedOf, type Finding, findingsOf } from "@/core/check/findings";
import type { ShellRow } from "@/core/check/measure";
import { type Asset, placedShape, type UvSetId } from "@/core/layout/asset";
import { shellNamed, structureOf } from "@/core/layout/layout";
import { ACCEPTABLE } from "@/core/layout/rules";
import type { AnyOperation } from "@/core/operations/operation";
import { acceptFindings, mendOfFinding } from "@/core/operations/registry";
import { layoutOf } from "@/core/operations/scope";
import { runOperation } from "../session/actions";
import { lookAtShells } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import card from "./card.module.css";
import { lengthWords, percent } from "./stages";

/** A shell as the lists call it: by its shape, and its place among the shells of that. */
function shellWords(asset: Asset, set: UvSetId, { shape: id, face }: ShellRow): string {
  const shape = asset.shapes.get(id);
  if (!shape) return "A shell that is gone";
  const shell = shellNamed(structureOf(shape.mesh, layoutOf(shape, set)), face) ?? 0;
  return `${placedShape(asset, id).name} ${shell + 1}`;
}

/** What of a finding can be accepted of its shells alone. */
const acceptable = ({ kind, shells }: Finding): boolean =>
  shells.length > 0 && (ACCEPTABLE as readonly string[]).includes(kind);

/** One finding: its words pick the shells it is about; the repair, and that it is meant, are offered beside it. */
function FindingLine({ finding, accepted }: { finding: Finding; accepted?: true }) {
  const { kind, words, shells } = finding;
  const session = useSession();
  const repair = mendOfFinding(kind);
  const act = (operation: AnyOperation, options: Readonly<Record<string, unknown>>) => {
    if (shells.length) lookAtShells(session.bench, shells);
    void runOperation(session, operation, options);
  };
  return (
    <div className={card.fault} data-tone={accepted ? "plain" : "bad"}>
      {shells.length ? (
        <Anchor
          component="button"
          type="button"
          size="xs"
          ta="left"
          onClick={() => lookAtShells(session.bench, shells)}
        >
          {words}
        </Anchor>
      ) : (
        <span>{words}</span>
      )}
      <div className={card.actions}>
        {!accepted && repair && (
          <Button size="compact-xs" variant="light" onClick={() => act(repair, {})} title={repair.about}>
            {repair.title}
          </Button>
        )}
        {acceptable(finding) && (
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            onClick={() => act(acceptFindings, { kind, back: accepted === true })}
            title={accepted ? "Tell of it again" : "It is meant to be so: no longer tell of these shells"}
          >
            {accepted ? "Take back" : "Accept"}
          </Button>
        )}
      </div>
    </div>
  );
}

/** Findings with the shells that fall short and the repair, then all figures. */
export function CheckCards() {
  const { bench } = useSession();
  const { measures: m, summary, asset, set } = useBenchOf("measures", "summary", "asset", "set");
  if (!m || !summary) return null;
  const found = findingsOf(m, asset!.rules, set);
  const accepted = acceptedOf(m, asset!.rules, set);
  const worst = [...m.perShell].sort((a, b) => b.energy - a.energy).slice(0, 5);
  const rows: Array<[name: string, value: string, about?: string]> = [
    ["Shells", String(m.shells)],
    ["Seams", lengthWords(summary.seams, asset!.unit)],
    ["Stretch (mean)", m.symmetricDirichlet?.toFixed(4) ?? "–", "Symmetric Dirichlet energy by area; 1 is none"],
    [
      "Stretch (99th percentile)",
      m.symmetricDirichletP99?.toFixed(3) ?? "–",
      "99 % of the area is stretched less than this",
    ],
    [
      "Angle distortion (mean)",
      m.quasiConformalMean?.toFixed(4) ?? "–",
      "Largest over smallest stretch of a triangle; 1 keeps angles",
    ],
    [
      "Area distortion (mean)",
      m.areaRatioMean?.toFixed(4) ?? "–",
      "Area in UV over area in space, or the other way round, against the mean; 1 keeps areas",
    ],
    ["Density (mean)", m.texelDensityMean ? `${m.texelDensityMean.toPrecision(4)} px/${asset!.unit}` : "–"],
    ["Density spread", m.texelDensityVariation !== undefined ? percent(m.texelDensityVariation, 1) : "–"],
    ["Filled", m.coverage !== undefined && m.coverage !== null ? percent(m.coverage, 1) : "–"],
    ["Overlap", m.overlapShare !== undefined ? percent(m.overlapShare, 2) : "–"],
    ["Smallest gap", typeof m.shellGapPx === "number" ? `${m.shellGapPx.toFixed(2)} px` : "–"],
    ["Gap to the border", m.borderGapPx !== undefined ? `${m.borderGapPx.toFixed(2)} px` : "–"],
    ["Mirrored shells", String(m.mirroredShells ?? 0)],
    ["Triangles out of tile", String(m.outOfBoundsTriangles ?? 0)],
  ];
  return (
    <>
      <section className={card.card} aria-label="Findings">
        <h3>{found.length ? `${found.length} finding${found.length === 1 ? "" : "s"}` : "All well"}</h3>
        {found.length === 0 && (
          <p>
            {accepted.length ? "Nothing else" : "Nothing"} flips, overlaps, leaves its tile, lacks coordinates or stands
            too near; densities agree.
          </p>
        )}
        {found.map((f) => (
          <FindingLine key={f.kind} finding={f} />
        ))}
        {accepted.length > 0 && <p style={{ marginTop: 8 }}>Accepted as intended:</p>}
        {accepted.map((f) => (
          <FindingLine key={f.kind} finding={f} accepted />
        ))}
      </section>
      <section className={card.card} aria-label="Figures">
        <h3>Figures</h3>
        <table className={card.figures}>
          <tbody>
            {rows.map(([name, value, about]) => (
              <tr key={name} title={about}>
                <td>{name}</td>
                <td>{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section className={card.card} aria-label="Most stretched shells">
        <h3>Most stretched</h3>
        {worst.map((s) => (
          <div key={`${s.shape}/${s.face}`} className={card.field}>
            <Anchor component="button" type="button" size="xs" onClick={() => lookAtShells(bench, [s])}>
              {shellWords(asset!, set, s)}
            </Anchor>
            <b>{s.energy.toFixed(3)}</b>
          </div>
        ))}
      </section>
    </>
  );
}
