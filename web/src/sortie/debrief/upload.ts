/** A recorder's file on its way to the server, with how far it has come; it can be stopped. */
import { answered, Failed, problemAt, server } from "../../api/client";
import type { ColumnMap, LookedAt, Problem, Recorded } from "../../api/types";

export interface Upload {
  done: Promise<Recorded>;
  stop: () => void;
}

/** Given up by us. */
export class Stopped extends Error {}

const token = () => /(?:^|; )csrftoken=([^;]*)/.exec(document.cookie)?.[1] ?? "";

/** So much of it is looked at, to see which column is what. */
const HEAD_BYTES = 60_000;

/** Throws Failed for what is no recording. */
export async function look(sortie: number, file: File): Promise<LookedAt> {
  const body = file.slice(0, HEAD_BYTES);
  return answered(
    server.POST("/api/sorties/{sortie_id}/recordings/look", {
      params: { path: { sortie_id: sortie } },
      body: body as unknown as string,
      bodySerializer: () => body,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
}

/** As it came. Throws Failed where it is gone. */
export async function fileOf(sortie: number, one: Recorded): Promise<File> {
  const answer = await fetch(`/api/sorties/${sortie}/recordings/${one.id}/file`);
  if (!answer.ok)
    throw new Failed(answer.status, [
      problemAt(one.name, "the file is not there any more", "Choose it again, if you have it."),
    ]);
  return new File([await answer.blob()], one.name);
}

/** columns: which is what, null for a track. onShare: of the way, 0 to 1; at 1 the file is there and is being read. */
export function upload(
  sortie: number,
  file: File,
  columns: ColumnMap | null,
  onShare: (share: number) => void,
): Upload {
  // fetch does not say how far an upload has come.
  const request = new XMLHttpRequest();
  const done = new Promise<Recorded>((resolve, reject) => {
    const asked = new URLSearchParams({ name: file.name });
    if (columns) asked.set("columns", JSON.stringify(columns));
    request.open("POST", `/api/sorties/${sortie}/recordings?${asked.toString()}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRFToken", token());
    request.responseType = "json";
    request.upload.onprogress = (e) => onShare(e.lengthComputable ? e.loaded / e.total : 0);
    request.upload.onload = () => onShare(1);
    request.onabort = () => reject(new Stopped());
    request.onerror = () => reject(failed(0, file.name, null));
    request.onload = () => {
      if (request.status === 201) resolve(request.response as Recorded);
      else reject(failed(request.status, file.name, request.response as { problems?: Problem[] } | null));
    };
    request.send(file);
  });
  return { done, stop: () => request.abort() };
}

function failed(status: number, name: string, answer: { problems?: Problem[] } | null): Failed {
  const unsaid = problemAt(name, "the server did not take it", "Check the connection and choose it again.");
  return new Failed(status, answer?.problems ?? [unsaid]);
}
