/** A recorder's file on its way to the server, with how far it has come; it can be stopped. */
import { Failed, problemAt } from "../../api/client";
import type { Problem, Recorded } from "../../api/types";

export interface Upload {
  done: Promise<Recorded>;
  stop: () => void;
}

/** Given up by us. */
export class Stopped extends Error {}

const token = () => /(?:^|; )csrftoken=([^;]*)/.exec(document.cookie)?.[1] ?? "";

/** onShare: of the way, 0 to 1; at 1 the file is there and is being read. */
export function upload(sortie: number, file: File, onShare: (share: number) => void): Upload {
  // fetch does not say how far an upload has come.
  const request = new XMLHttpRequest();
  const done = new Promise<Recorded>((resolve, reject) => {
    request.open("POST", `/api/sorties/${sortie}/recordings?name=${encodeURIComponent(file.name)}`);
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
