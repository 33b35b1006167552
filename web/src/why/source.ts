/** "flight manual: manual 5.2" says the same twice: where the words already name the kind, they are enough. */
export function sourceWords(source: {
  kind?: string;
  source?: string;
  words?: string;
  ref?: string;
}): string {
  const kind = source.kind ?? source.source ?? "",
    words = source.words ?? source.ref ?? "";
  if (kind === "not given") return words || "source not given";
  if (!words) return kind;
  return words.includes(kind) || (kind === "flight manual" && words.startsWith("manual"))
    ? words
    : `${kind}: ${words}`;
}
