/** A recorder's file on its way to the server, with how far it has come; it can be stopped. */
import { answered, Failed, problemAt, server } from "./client";
import type { CalendarRead, ColumnMap, LookedAt, Problem, Recorded, Waiting } from "./types";

export interface Upload<Made> {
  done: Promise<Made>;
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

/** As it came, from this address. Throws Failed where it is gone. */
export async function fileFrom(address: string, name: string): Promise<File> {
  const answer = await fetch(address);
  if (!answer.ok)
    throw new Failed(answer.status, [
      problemAt(name, "the file is not there any more", "Choose it again, if you have it."),
    ]);
  return new File([await answer.blob()], name);
}

/** Into a sortie. columns: which is what, null for a track. */
export const upload = (
  sortie: number,
  file: File,
  columns: ColumnMap | null,
  onShare: (share: number) => void,
): Upload<Recorded> =>
  sent(
    `/api/sorties/${sortie}/recordings`,
    file,
    columns ? { columns: JSON.stringify(columns) } : {},
    onShare,
  );

/** Into the inbox: of which sortie it is will be seen. */
export const intoInbox = (file: File, onShare: (share: number) => void): Upload<Waiting> =>
  sent("/api/inbox", file, {}, onShare);

/** onShare: of the way, 0 to 1; at 1 the file is there and is being read. */
function sent<Made>(
  address: string,
  file: File,
  also: Record<string, string>,
  onShare: (share: number) => void,
): Upload<Made> {
  // fetch does not say how far an upload has come.
  const request = new XMLHttpRequest();
  const done = new Promise<Made>((resolve, reject) => {
    const asked = new URLSearchParams({ name: file.name, ...also });
    request.open("POST", `${address}?${asked.toString()}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRFToken", token());
    request.responseType = "json";
    request.upload.onprogress = (e) => onShare(e.lengthComputable ? e.loaded / e.total : 0);
    request.upload.onload = () => onShare(1);
    request.onabort = () => reject(new Stopped());
    request.onerror = () => reject(failed(0, file.name, null));
    request.onload = () => {
      if (request.status === 201) resolve(request.response as Made);
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

/** A calendar's file, looked at or stored. Throws Failed for what is none. */
export async function sentCalendar(
  file: File,
  of: { person_id?: number; aircraft_id?: number },
  store: boolean,
): Promise<CalendarRead> {
  return answered(
    server.POST("/api/taken-file", {
      params: { query: { name: file.name, store, ...of } },
      body: file as unknown as string,
      bodySerializer: () => file,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
}
