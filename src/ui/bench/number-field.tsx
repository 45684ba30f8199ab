"use client";

import { TextInput } from "@mantine/core";
import { type KeyboardEvent, useState } from "react";
import type { OptionField } from "@/core/operations/option-fields";
import { readSum, shownNumber } from "./sums";

const HOW = "Write a number or a sum, such as 5.4/2, with a unit where one fits";

const within = (value: number, { least, most, whole }: OptionField): number =>
  Math.min(most ?? Infinity, Math.max(least ?? -Infinity, whole ? Math.round(value) : value));

const stepOf = ({ whole, unit }: OptionField): number =>
  whole || unit === "px" ? 1 : unit === "tiles" ? 0.05 : unit === "°" ? 5 : 0.01;

/** A number of an operation's options: sums and units are read, arrow keys step, and it is taken by Enter or on leaving. */
export function NumberField(props: {
  field: OptionField;
  unit: string;
  value: number | undefined;
  change: (value: number | undefined) => void;
  onEnter: () => void;
  /** The number after it, and how that takes the same value. */
  neighbour?: string;
  copyOn?: (value: number) => void;
}) {
  const { field, unit, value, change, onEnter, neighbour, copyOn } = props;
  /** What is being typed; null when it is not. */
  const [text, setText] = useState<string | null>(null);
  const shown = value === undefined ? "" : `${shownNumber(value)}${unit ? ` ${unit}` : ""}`;
  const read = text === null || text.trim() === "" ? undefined : readSum(text, unit);
  /** Takes what was typed; returns whether it could be read. */
  const take = (): boolean => {
    if (text === null) return true;
    if (read === null) return false;
    change(read === undefined ? undefined : within(read, field));
    setText(null);
    return true;
  };
  const press = (event: KeyboardEvent) => {
    if (event.key === "Enter" && take()) onEnter();
    if (event.key === "Escape") {
      // Leaves the number as it was; the next key is the bench's again.
      event.stopPropagation();
      setText(null);
      (event.currentTarget as HTMLInputElement).blur();
      return;
    }
    if (copyOn && event.altKey && event.key === "ArrowDown") {
      event.preventDefault();
      const now = read ?? value;
      if (now === undefined || now === null || !take()) return;
      copyOn(within(now, field));
      const column = event.currentTarget.closest("section, [role=dialog]");
      column?.querySelector<HTMLInputElement>(`input[aria-label="${neighbour}"]`)?.focus();
      return;
    }
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!by || read === null) return;
    event.preventDefault();
    const from = read ?? value ?? 0;
    change(within(Number((from + by * stepOf(field) * (event.shiftKey ? 10 : 1)).toFixed(9)), field));
    setText(null);
  };
  return (
    <TextInput
      size="xs"
      w={112}
      aria-label={field.title}
      inputMode="decimal"
      placeholder={field.empty}
      title={`${field.description}. ${HOW}${neighbour ? `. Alt ↓ copies it to ${neighbour}` : ""}`}
      value={text ?? shown}
      error={read === null}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={() => {
        // What cannot be read is let go: the number stays what it was.
        if (!take()) setText(null);
      }}
      onKeyDown={press}
    />
  );
}
