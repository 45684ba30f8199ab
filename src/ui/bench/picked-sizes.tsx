"use client";

import { Button, CopyButton, Group, Popover, UnstyledButton } from "@mantine/core";
import { useEffect, useState } from "react";
import type { Sizes } from "@/core/check/sizes";
import { count, elementWords } from "@/core/operations/words";
import { letGoOfPiece, reviewNext } from "../session/review";
import { say } from "../session/say";
import { useBenchOf, useSession } from "../session/session-context";
import { countPicked } from "../session/store";
import classes from "./picked-sizes.module.css";

/** A size by name; the number is what is copied. */
type Row = readonly [name: string, value: number, unit: string];

function rowsOf({ extent, edges, area, uv, count, groups }: Sizes, unit: string): Row[] {
  return [
    ...(groups === undefined ? [] : [["Connected groups", groups, ""] as Row]),
    ...(["x", "y", "z"] as const).map((axis, d): Row => [`Along ${axis}`, extent[d]!, unit]),
    ...(edges
      ? ([
          ["Length in all", edges.total, unit],
          ["Mean length", edges.total / count, unit],
          ["Shortest", edges.shortest, unit],
          ["Longest", edges.longest, unit],
        ] as Row[])
      : []),
    ...(area === undefined ? [] : [["Area", area, `${unit}²`] as Row]),
    ...(uv
      ? ([
          ["Width in Sheet", uv.texels[0], "px"],
          ["Height in Sheet", uv.texels[1], "px"],
        ] as Row[])
      : []),
  ];
}

/** As many digits as mean something, and no more noughts than needed. */
const digits = (value: number, most = 6): string => String(Number(value.toPrecision(most)));

/** How many elements are picked; a press shows how large they are together, as numbers that can be copied. */
export function PickedSizes() {
  const session = useSession();
  const {
    asset,
    set,
    kind,
    picked,
    wholeParts,
    rows: parts,
  } = useBenchOf("asset", "set", "kind", "picked", "wholeParts", "rows");
  const [opened, setOpened] = useState(false);
  const [sizes, setSizes] = useState<Sizes | null>(null);
  const n = countPicked(picked);
  useEffect(() => {
    if (!opened || !n) return;
    let wanted = true;
    const items = new Map([...picked].map(([id, s]) => [id, s.items()] as const));
    // Those of another selection, or from before an edit, would be wrong.
    setSizes(null);
    session
      .lookUp((remote, revision) => remote.sizes(revision, set, { kind, items }))
      .then((found) => wanted && setSizes(found))
      .catch((error: Error) => say(session.bench, `Measuring failed: ${error.message}`, "refused"));
    return () => {
      wanted = false;
    };
  }, [session, opened, n, asset, picked, kind, set]);
  if (!n) return <b data-testid="picked">Nothing picked</b>;
  const rows = sizes ? rowsOf(sizes, asset!.unit) : [];
  return (
    <Popover opened={opened} onChange={setOpened} position="top-start" withinPortal shadow="md" trapFocus returnFocus>
      <Popover.Target>
        <UnstyledButton
          className={classes.count}
          data-testid="picked"
          title="How large is it together?"
          aria-haspopup="dialog"
          onClick={() => setOpened(!opened)}
        >
          {wholeParts && parts.size ? count(parts.size, "part") : elementWords(n, kind)}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown p="xs">
        <table className={classes.sizes}>
          <tbody>
            {rows.map(([name, value, unit]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>
                  <CopyButton value={digits(value)}>
                    {({ copied, copy }) => (
                      <UnstyledButton onClick={copy} title="Copy" aria-label={`Copy ${name.toLowerCase()}`}>
                        {copied ? "copied" : `${digits(value, 4)} ${unit}`.trim()}
                      </UnstyledButton>
                    )}
                  </CopyButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {!sizes && "Measuring…"}
        {(sizes?.groups ?? 0) > 1 && (
          <Group gap={4} mt={6}>
            <Button size="compact-xs" variant="default" onClick={() => void reviewNext(session, -1)}>
              Piece before
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => void reviewNext(session, 1)}>
              Next piece
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => letGoOfPiece(session.bench)}>
              Let go of it
            </Button>
          </Group>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
