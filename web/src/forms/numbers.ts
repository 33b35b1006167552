/** Numbers as people write them, whatever their country: one set of rules, the same in every field. */

export type Read = { value: number } | { problem: string };

const GROUPS = "[1-9]\\d{0,2}";
/** Each way of writing, and what of it is taken out and what is the decimal mark. */
const WAYS: [RegExp, (text: string) => string][] = [
  [/^\d+$/, (t) => t],
  // 4 500, 4 500,5
  [new RegExp(`^${GROUPS}( \\d{3})+([.,]\\d*)?$`), (t) => t.replace(/ /g, "").replace(",", ".")],
  // 4,500 and 4,500.5
  [new RegExp(`^${GROUPS}(,\\d{3})+(\\.\\d*)?$`), (t) => t.replace(/,/g, "")],
  // 4.500,5 and 1.234.567
  [new RegExp(`^${GROUPS}(\\.\\d{3})+,\\d*$`), (t) => t.replace(/\./g, "").replace(",", ".")],
  [new RegExp(`^${GROUPS}(\\.\\d{3}){2,}$`), (t) => t.replace(/\./g, "")],
  // 1.5 and 1,5
  [/^(\d+[.,]\d*|[.,]\d+)$/, (t) => t.replace(",", ".")],
];
const EITHER = new RegExp(`^${GROUPS}\\.\\d{3}$`);

/** Shown in Help. */
export const RULES = [
  "4500, 4,500 and 4 500 are the same: a comma or a space before three digits parts thousands.",
  "1.5 and 1,5 are the same: before any other number of digits it is the decimal mark.",
  "4.500 could be either and is not taken: write 4500 or 4.5.",
  "Enter, or leaving the field, takes the number; Esc takes the typing back.",
];

/** The number that somebody wrote, or why it is none. */
export function readNumber(text: string): Read {
  const plain = text
    .trim()
    .replace(/\s/g, " ")
    .replace(/^[-−] ?/, "-");
  const [sign, digits] = plain.startsWith("-") ? [-1, plain.slice(1)] : [1, plain];
  if (EITHER.test(digits)) {
    const [whole = "", part = ""] = digits.split(".");
    return { problem: `'${text.trim()}' could be ${whole}${part} or ${Number(digits)}: write one of them.` };
  }
  const way = WAYS.find(([written]) => written.test(digits));
  return way
    ? { value: sign * Number(way[1](digits)) || 0 }
    : { problem: `'${text.trim()}' is not a number: write it as 4500 or 1.5.` };
}

/** As it stands in a field: such that it is read as the same number again. */
export function written(value: number | null): string {
  if (value === null) return "";
  const text = String(Math.round(value * 1000) / 1000);
  return EITHER.test(text.replace("-", "")) ? `${text}0` : text;
}

export interface Range {
  least?: number | null;
  most?: number | null;
}

/** What is wrong with a number that must lie in a range; empty when nothing is. */
export function outside(value: number, { least, most }: Range): string {
  const below = least != null && value < least,
    above = most != null && value > most;
  if (!below && !above) return "";
  const limits =
    least != null && most != null
      ? `${said(least)} to ${said(most)}`
      : least != null
        ? `${said(least)} or more`
        : `${said(most ?? 0)} or less`;
  return `${said(value)} is ${below ? "too little" : "too much"}: give ${limits}.`;
}

function said(value: number): string {
  return value.toLocaleString("en", { maximumFractionDigits: 3 }).replace("-", "−");
}
