"use client";

import { Anchor, Button, FileButton, Kbd, Switch } from "@mantine/core";
import { type ReactNode, useState } from "react";
import type { AnyOperation } from "@/core/operations/operation";
import { meaningful, type OptionField } from "@/core/operations/option-fields";
import { assemble, intoFree } from "@/core/operations/registry";
import { count } from "@/core/operations/words";
import { runOperation } from "../session/actions";
import { movesUnderImages } from "../session/moved-images";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import type { Outcome } from "../session/store";
import card from "./card.module.css";
import { Foretold } from "./foretold";
import { keyWords } from "./key-choices";
import { useKeyOf } from "./keys";
import { NoteList } from "./note-list";
import { OneByOne } from "./one-by-one";
import classes from "./operation-card.module.css";
import { Field } from "./option-field";
import { PaintedImages } from "./painted-images";
import { SCOPE_KEYS, scopeWords } from "./scope-words";
import { shortTitle } from "./short-title";
import { lengthWords, percent } from "./stages";
import { Tried } from "./tried";

/** Options shown at once; the others wait behind a line that opens them. */
const SHOWN = 3;

/** Options that are shown at once: those that are not said to be more, else the first few where there are many. */
const firstOf = (fields: readonly OptionField[]): readonly OptionField[] =>
  fields.some((f) => f.more)
    ? fields.filter((f) => !f.more)
    : fields.length <= SHOWN + 1
      ? fields
      : fields.slice(0, SHOWN);

/** Shows the empty boxes in Sheet, to be pressed. */
function ShowsFree() {
  const { bench } = useSession();
  const freeSpace = useBench((s) => s.freeSpace);
  return (
    <Switch
      mt={8}
      size="xs"
      label="Show free space in Sheet"
      checked={freeSpace}
      onChange={(e) => bench.setState({ freeSpace: e.currentTarget.checked })}
    />
  );
}

/** Figures before and after, only those that changed. */
function Result({ outcome }: { outcome: Outcome }) {
  const unit = useBench((s) => s.asset!.unit);
  const { before, after } = outcome;
  if (!before || !after) return null;
  const number = (x: number | null, show: (v: number) => string) => (x === null ? "–" : show(x));
  const rows: Array<[string, string, string]> = [
    ["Shells", String(before.shells), String(after.shells)],
    ["Seams", lengthWords(before.seams, unit), lengthWords(after.seams, unit)],
    ["Stretch", number(before.stretch, (v) => v.toFixed(3)), number(after.stretch, (v) => v.toFixed(3))],
    ["Density spread", number(before.spread, (v) => percent(v, 1)), number(after.spread, (v) => percent(v, 1))],
    ["Filled", number(before.coverage, (v) => percent(v, 1)), number(after.coverage, (v) => percent(v, 1))],
    ["Overlap", number(before.overlap, (v) => percent(v, 1)), number(after.overlap, (v) => percent(v, 1))],
  ];
  const changed = rows.filter(([, a, b]) => a !== b);
  return (
    <div className={classes.result} data-testid="result">
      {changed.length ? (
        changed.map(([name, a, b]) => (
          <div key={name} style={{ display: "contents" }}>
            <span>{name}</span>
            <s>{a}</s>
            <b>{b}</b>
          </div>
        ))
      ) : (
        <span>No figure changed.</span>
      )}
    </div>
  );
}

/** The next number field of the same unit. */
function neighbourOf(field: OptionField, all: readonly OptionField[]): OptionField | undefined {
  const isNumber = (f: OptionField) => f.kind === "number" && !f.choices;
  if (!isNumber(field)) return undefined;
  return all.slice(all.indexOf(field) + 1).find((f) => isNumber(f) && f.unit === field.unit);
}

/** One operation: what it does, what it will act on, its options, its button and its last result. */
export function OperationCard({ op, head, main }: { op: AnyOperation; head: ReactNode; main: boolean }) {
  const session = useSession();
  const state = useBenchOf(...SCOPE_KEYS, "outcomes", "jobs");
  const [open, setOpen] = useState(false);
  const chosen = useBench((s) => s.options[op.id]);
  const fields = meaningful(op, chosen).filter(
    (f) => !op.takesEye && f.name !== "images" && !(f.name in (op.given ?? {})),
  );
  const shown = open ? fields : firstOf(fields);
  const { words, ready } = scopeWords(op, state);
  const isPicked = state.picked.size > 0 || state.rows.size > 0;
  const outcome = state.outcomes[op.id];
  const key = useKeyOf(op.id);
  // The same work is not asked for twice by a double click; other work waits its turn.
  const running = state.jobs.some((j) => j.title === op.title);
  const busy = !ready || running;
  const variant = main ? "filled" : "default";
  const bring = async (list: File[]) => {
    const files = await Promise.all(
      list.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
    );
    if (files.length) await runOperation(session, op, {}, files);
  };
  return (
    <section className={card.card} aria-label={op.title} data-operation={op.id}>
      {head}
      <p title={op.about}>{words}</p>
      {movesUnderImages(op, state) && <PaintedImages />}
      {shown.map((f) => (
        <Field
          key={f.name}
          operation={op.id}
          field={f}
          onEnter={() => ready && void runOperation(session, op)}
          neighbour={neighbourOf(f, shown)}
        />
      ))}
      {shown.length < fields.length && (
        <Anchor component="button" type="button" size="xs" c="dimmed" onClick={() => setOpen(true)}>
          {count(fields.length - shown.length, "more option")}
        </Anchor>
      )}
      {op.kind === "edit" && op.needs ? (
        <FileButton multiple onChange={(list) => void bring(list)}>
          {(props) => (
            <Button {...props} fullWidth mt={6} size="xs" variant={variant} disabled={busy} title={op.about}>
              {op.title}…
            </Button>
          )}
        </FileButton>
      ) : (
        <Button
          fullWidth
          mt={6}
          size="xs"
          justify="space-between"
          variant={variant}
          disabled={busy}
          onClick={() => void runOperation(session, op)}
          title={op.about}
          rightSection={key ? <Kbd size="xs">{keyWords(key)}</Kbd> : undefined}
        >
          {shortTitle(op)}
        </Button>
      )}
      {/* It comes a moment later: above the button it would move that away from under the pointer. */}
      <div className={classes.told}>
        {op.kind === "edit" && op.foretells && ready && <Foretold op={op} />}
        {op.kind === "edit" && op.drawnBefore && ready && isPicked && <Tried op={op} />}
      </div>
      {op.id === assemble.id && <OneByOne />}
      {op.id === intoFree.id && <ShowsFree />}
      {/* While it is at work again, what it came to before is no longer so. */}
      {outcome && !running && <Result outcome={outcome} />}
      {outcome && !running && outcome.notes.length > 0 && <NoteList notes={outcome.notes} />}
    </section>
  );
}
