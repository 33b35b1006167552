import { Button } from "@mui/material";
import { useRef } from "react";
import { Failed, problemAt } from "../api/client";
import { readJson } from "../frame/files";

type Document = Record<string, unknown>;

interface Props {
  label: string;
  /** Throws when the document is not what is wanted. */ onTaken: (document: Document) => void;
  onFailed: (error: unknown) => void;
}

/** A document from a file. What cannot be taken is handed back with why. */
export function TakeFile({ label, onTaken, onFailed }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      onTaken(documentIn(await readJson(file), file.name));
    } catch (error) {
      onFailed(error);
    }
  };
  return (
    <>
      <Button onClick={() => input.current?.click()}>Import</Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          void take(file);
        }}
      />
    </>
  );
}

function documentIn(found: unknown, where: string): Document {
  if (typeof found === "object" && found !== null && !Array.isArray(found)) return found as Document;
  const what = "it does not begin with {";
  throw new Failed(422, [problemAt(where, what, "Choose a file that was exported here.")]);
}
