/** Files out of and into the browser. */
import { Failed, problemAt } from "../api/client";

/** Offers a document as a JSON file. */
export function offerJson(name: string, document_: unknown) {
  const url = URL.createObjectURL(
    new Blob([JSON.stringify(document_, null, 2)], { type: "application/json" }),
  );
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

const MOST_BYTES = 1_000_000;

/** A chosen file as JSON. Throws Failed that says what is wrong and where in the text. */
export async function readJson(file: File): Promise<unknown> {
  if (file.size > MOST_BYTES)
    throw new Failed(422, [
      problemAt(
        file.name,
        `it has ${Math.round(file.size / 1e6)} MB`,
        "Choose a file that this program wrote.",
      ),
    ]);
  const text = await file.text();
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    const at = /position (\d+)/.exec(String(error))?.[1];
    const line = at === undefined ? "" : `, line ${text.slice(0, Number(at)).split("\n").length}`;
    throw new Failed(422, [
      problemAt(
        `${file.name}${line}`,
        text.trim() === "" ? "the file is empty" : "it is not JSON",
        "Choose a file that was stored as JSON, or mend it there.",
      ),
    ]);
  }
}
