import { UserError } from "../layout/user-error";

const NEWLINE = 10;
const RETURN = 13;
const SPACE = 32;
const TAB = 9;
const BACKSLASH = 92;
const HASH = 35;
const POWERS = Float64Array.from({ length: 23 }, (_, i) => 10 ** i);

/**
 * Reads the words of an OBJ file straight from its bytes, line by line, without making strings of numbers.
 * A backslash before the line's end continues the line; a comment ends it.
 */
export class ObjScanner {
  line = 0;
  private at = 0;
  private lineStart = 0;

  constructor(private readonly bytes: Uint8Array) {}

  /** How many bytes have been read. */
  get position(): number {
    return this.at;
  }

  /** Moves to the next line that holds a word; false at the end. */
  nextLine(): boolean {
    const { bytes } = this;
    if (this.line > 0) this.skipRest();
    while (this.at < bytes.length) {
      this.line++;
      this.lineStart = this.at;
      this.skipSpace();
      const c = bytes[this.at];
      if (c === undefined) return false;
      if (c === HASH || c === NEWLINE || c === RETURN) this.skipRest();
      else return true;
    }
    return false;
  }

  /** Byte range of the line now read, continued lines and its end included; call when done with its words. */
  lineRange(): [number, number] {
    const start = this.lineStart;
    const { at, line } = this;
    this.skipRest();
    const end = this.at;
    this.at = at;
    this.line = line;
    return [start, end];
  }

  private skipRest(): void {
    const { bytes } = this;
    for (; this.at < bytes.length; this.at++) {
      const c = bytes[this.at];
      if (c === BACKSLASH && this.continues()) continue;
      if (c === NEWLINE || c === RETURN) {
        this.at += c === RETURN && bytes[this.at + 1] === NEWLINE ? 2 : 1;
        return;
      }
    }
  }

  /** At a backslash: whether it continues the line; if so moves to the end of its line break. */
  private continues(): boolean {
    const { bytes } = this;
    const next = bytes[this.at + 1];
    if (next === NEWLINE) this.at += 1;
    else if (next === RETURN) this.at += bytes[this.at + 2] === NEWLINE ? 2 : 1;
    else return false;
    this.line++;
    return true;
  }

  private skipSpace(): void {
    for (; this.at < this.bytes.length; this.at++) {
      const c = this.bytes[this.at];
      if (c === SPACE || c === TAB) continue;
      if (c === BACKSLASH && this.continues()) continue;
      return;
    }
  }

  /** Whether another word stands on this line; moves to it. */
  more(): boolean {
    this.skipSpace();
    const c = this.bytes[this.at];
    return c !== undefined && c !== NEWLINE && c !== RETURN && c !== HASH;
  }

  /** The line's first word where it is one of the four that make up nearly all lines, read without making a string; else "". */
  keyword(): "v" | "vt" | "vn" | "f" | "" {
    this.skipSpace();
    const { bytes, at } = this;
    const [a, b] = [bytes[at]!, bytes[at + 1] ?? NEWLINE];
    if (b <= SPACE && (a === 118 || a === 102)) {
      this.at = at + 1;
      return a === 118 ? "v" : "f";
    }
    if (a !== 118 || (b !== 116 && b !== 110) || (bytes[at + 2] ?? NEWLINE) > SPACE) return "";
    this.at = at + 2;
    return b === 116 ? "vt" : "vn";
  }

  /** The next word as text. */
  word(): string {
    this.skipSpace();
    const start = this.at;
    while (this.at < this.bytes.length && this.bytes[this.at]! > SPACE) this.at++;
    return latin(this.bytes, start, this.at);
  }

  /** The rest of the line as text, trimmed, for names with blanks. */
  rest(): string {
    this.skipSpace();
    const start = this.at;
    let end = start;
    while (end < this.bytes.length && this.bytes[end] !== NEWLINE && this.bytes[end] !== RETURN) end++;
    this.at = end;
    return new TextDecoder().decode(this.bytes.subarray(start, end)).trim();
  }

  /** The next word as a finite number. */
  number(what: string): number {
    this.skipSpace();
    const { bytes } = this;
    const start = this.at;
    let i = start;
    const negative = bytes[i] === 45;
    if (negative || bytes[i] === 43) i++;
    let mantissa = 0;
    let digits = 0;
    let exponent = 0;
    let any = false;
    for (let c = bytes[i]!; c >= 48 && c <= 57; c = bytes[++i]!) {
      mantissa = mantissa * 10 + (c - 48);
      digits += mantissa > 0 ? 1 : 0;
      any = true;
    }
    if (bytes[i] === 46) {
      i++;
      for (let c = bytes[i]!; c >= 48 && c <= 57; c = bytes[++i]!) {
        mantissa = mantissa * 10 + (c - 48);
        digits += mantissa > 0 ? 1 : 0;
        exponent--;
        any = true;
      }
    }
    const end = bytes[i] ?? NEWLINE;
    // Up to 15 digits and 22 tens the product of two exact doubles is the correctly rounded number.
    if (any && digits <= 15 && exponent >= -22 && end <= SPACE) {
      this.at = i;
      const value = exponent ? mantissa / POWERS[-exponent]! : mantissa;
      return negative ? -value : value;
    }
    const text = this.word();
    const value = text === "" ? Number.NaN : Number(text);
    if (!Number.isFinite(value))
      this.fail(text === "" ? `${what} lacks a number` : `${what} has “${clip(text)}” where a number belongs`);
    return value;
  }

  /** The next part of a face corner as an index; 0 when it is empty. Leaves a following slash in place. */
  index(): number {
    const { bytes } = this;
    const negative = bytes[this.at] === 45;
    if (negative) this.at++;
    let value = 0;
    for (let c = bytes[this.at]!; c >= 48 && c <= 57; c = bytes[++this.at]!) value = value * 10 + (c - 48);
    return negative ? -value : value;
  }

  /** Moves over a slash if one stands here. */
  slash(): boolean {
    if (this.bytes[this.at] !== 47) return false;
    this.at++;
    return true;
  }

  /** Whether the word ends here. */
  atWordEnd(): boolean {
    const c = this.bytes[this.at];
    return c === undefined || c <= SPACE || c === HASH || (c === BACKSLASH && (this.bytes[this.at + 1] ?? 0) <= RETURN);
  }

  fail(why: string): never {
    throw new UserError(`Line ${this.line}: ${why}.`);
  }
}

const decoder = new TextDecoder("latin1");
/** Short words are put together faster by hand than by a decoder. */
const latin = (bytes: Uint8Array, start: number, end: number): string =>
  end - start < 48
    ? String.fromCharCode.apply(null, bytes.subarray(start, end) as unknown as number[])
    : decoder.decode(bytes.subarray(start, end));

const clip = (text: string): string => (text.length > 24 ? `${text.slice(0, 24)}…` : text);
