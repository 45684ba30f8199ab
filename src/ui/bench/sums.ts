import { METRES, type Unit } from "@/core/layout/asset";

/**
 * Reads what was typed into a number: a number, a sum such as 5.4/2 or 2*(3+1), each number with a unit where one fits.
 * Lengths are converted to the field's own unit, so that 3 cm is 30 in a field of millimetres.
 *
 * @param unit the field's: a length, or a word such as px, ° or tiles that may be written behind a number
 * @returns null for what is no number
 */
export function readSum(text: string, unit = ""): number | null {
  const reader = new Reader(text.replaceAll(",", ".").replaceAll("−", "-"), unit);
  const value = reader.sum();
  return value !== null && reader.isAtEnd && Number.isFinite(value) ? value : null;
}

const isLength = (unit: string): unit is Unit => unit in METRES;

class Reader {
  private at = 0;
  constructor(
    private readonly text: string,
    private readonly unit: string,
  ) {}

  get isAtEnd(): boolean {
    return this.take(/\s*/y) !== null && this.at === this.text.length;
  }

  private take(pattern: RegExp): string | null {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (!found) return null;
    this.at = pattern.lastIndex;
    return found[1] ?? found[0];
  }

  sum(): number | null {
    return this.chain(/\s*([+-])/y, () => this.product());
  }

  private product(): number | null {
    return this.chain(/\s*([*/])/y, () => this.factor());
  }

  /** Values with signs between them, from left to right. */
  private chain(sign: RegExp, next: () => number | null): number | null {
    let value = next();
    for (let s = this.take(sign); value !== null && s !== null; s = this.take(sign)) {
      const other = next();
      if (other === null) return null;
      value = s === "+" ? value + other : s === "-" ? value - other : s === "*" ? value * other : value / other;
    }
    return value;
  }

  private factor(): number | null {
    if (this.take(/\s*-/y)) {
      const value = this.factor();
      return value === null ? null : -value;
    }
    if (this.take(/\s*\(/y)) {
      const value = this.sum();
      return this.take(/\s*\)/y) ? value : null;
    }
    const number = this.take(/\s*(\d+\.?\d*|\.\d+)/y);
    if (number === null) return null;
    const value = Number(number);
    const unit = this.take(/\s*([a-z]+|°)/iy);
    if (unit === null || unit === this.unit) return value;
    return isLength(unit) && isLength(this.unit) ? (value * METRES[unit]) / METRES[this.unit] : null;
  }
}

/** A number as a field shows it, to nine digits. */
export const shownNumber = (value: number): string => String(Number(value.toPrecision(9)));
