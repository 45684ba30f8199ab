"use client";

import { ActionIcon, Checkbox, Select, Slider, TextInput } from "@mantine/core";
import { IconColorPicker } from "@tabler/icons-react";
import type { Asset } from "@/core/layout/asset";
import type { Rules } from "@/core/layout/rules";
import type { OptionField } from "@/core/operations/option-fields";
import { setOption } from "../session/actions";
import { pickedDensity } from "../session/picked-density";
import { useBench, useSession } from "../session/session-context";
import card from "./card.module.css";
import { NumberField } from "./number-field";

/** What an option is when nothing is given: what the asset has, or the operation's own default. */
function initialOf({ from, name, initial }: OptionField, { unit, tiles, rules }: Asset): unknown {
  if (from === "unit") return unit;
  if (from === "resolution") return tiles.resolution;
  return from === "rules" ? rules[name as keyof Rules] : initial;
}

/** One option of an operation, as set in the cards. */
export function Field(props: {
  operation: string;
  field: OptionField;
  onEnter: () => void;
  /** The number after this one that it can be copied to. */
  neighbour?: OptionField | undefined;
}) {
  const { operation, field, onEnter, neighbour } = props;
  const session = useSession();
  const asset = useBench((s) => s.asset!);
  const given = useBench((s) => s.options[operation]?.[field.name]);
  const value = given ?? initialOf(field, asset);
  const change = (v: unknown) => setOption(session, operation, field.name, v);
  if (field.kind === "boolean")
    return (
      <Checkbox
        my={6}
        size="xs"
        label={field.title}
        title={field.description}
        checked={value === true}
        onChange={(e) => change(e.currentTarget.checked)}
      />
    );
  if (field.kind === "text")
    return (
      <div className={card.field} title={field.description}>
        <span>{field.title}</span>
        <TextField field={field} value={String(value ?? "")} change={change} onEnter={onEnter} />
      </div>
    );
  if (field.ends) return <Between field={field} value={Number(value)} change={change} />;
  return (
    <div className={card.field} title={field.description}>
      <span>{field.title}</span>
      {field.takes && <Take take={change} />}
      {field.choices ? (
        <Select
          size="xs"
          w={112}
          aria-label={field.title}
          allowDeselect={false}
          data={field.choices.map((c) => ({ value: String(c), label: field.unit ? `${c} ${field.unit}` : String(c) }))}
          value={String(value)}
          onChange={(v) => change(field.kind === "number" ? Number(v) : v)}
        />
      ) : (
        <NumberField
          field={field}
          unit={field.unit?.replace("unit", asset.unit) ?? ""}
          value={value as number | undefined}
          change={change}
          onEnter={onEnter}
          {...(neighbour && {
            neighbour: neighbour.title,
            copyOn: (v: number) => setOption(session, operation, neighbour.name, v),
          })}
        />
      )}
    </div>
  );
}

/** Takes the number from the shells that are picked. */
function Take({ take }: { take: (v: number) => void }) {
  const density = useBench(pickedDensity);
  return (
    <ActionIcon
      ml="auto"
      size="sm"
      variant="subtle"
      aria-label="Take the density of the picked shells"
      title={density === null ? "Pick shells whose density is to be taken" : "Take the density of the picked shells"}
      disabled={density === null}
      onClick={() => density !== null && take(Number(density.toPrecision(6)))}
    >
      <IconColorPicker size={14} />
    </ActionIcon>
  );
}

/** A number set between two ends that have names. */
function Between({ field, value, change }: { field: OptionField; value: number; change: (v: number) => void }) {
  const { title, description, ends, least, most } = field;
  return (
    <div className={card.between} title={description}>
      <span>{ends![0]}</span>
      <Slider
        flex={1}
        size="sm"
        min={least!}
        max={most!}
        step={(most! - least!) / 20}
        startPointValue={(most! + least!) / 2}
        label={(v) => v.toFixed(1)}
        thumbLabel={title}
        value={value}
        onChange={change}
      />
      <span>{ends![1]}</span>
    </div>
  );
}

/** Free text, or a choice among what the asset has by name. */
function TextField({
  field,
  value,
  change,
  onEnter,
}: {
  field: OptionField;
  value: string;
  change: (v: string) => void;
  onEnter: () => void;
}) {
  const asset = useBench((s) => s.asset)!;
  if (!field.from)
    return (
      <TextInput
        size="xs"
        w={150}
        aria-label={field.title}
        value={value}
        onChange={(e) => change(e.currentTarget.value)}
        onKeyDown={(e) => e.key === "Enter" && onEnter()}
      />
    );
  const lists = {
    materials: asset.materials.map((m) => m.name),
    selections: asset.selections.map((s) => s.name),
    seamLocks: asset.seamLocks.map((lock) => lock.reason),
  };
  const named = field.from in lists ? lists[field.from as keyof typeof lists] : null;
  const data = named
    ? [...new Set(named)].map((name) => ({ value: name, label: name }))
    : asset[field.from === "parts" ? "parts" : "sets"].map((x: { id: string; name: string }) => ({
        value: x.id,
        label: x.name,
      }));
  return (
    <Select
      size="xs"
      w={150}
      searchable
      clearable
      aria-label={field.title}
      placeholder={field.from === "materials" || field.from === "seamLocks" ? "any" : "choose"}
      limit={100}
      data={data}
      value={value || null}
      onChange={(v) => change(v ?? "")}
    />
  );
}
