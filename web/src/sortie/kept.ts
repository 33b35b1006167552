/** What is entered is kept in this browser until the server has it: a reload or a dead battery loses nothing. */
import type { Draft } from "./draft";

interface Kept {
  version: number;
  draft: Draft;
}
const key = (id: number) => `keelturn.sortie.${id}`;

export function keep(id: number, version: number, draft: Draft) {
  localStorage.setItem(key(id), JSON.stringify({ version, draft } satisfies Kept));
}

export function kept(id: number): Kept | null {
  const text = localStorage.getItem(key(id));
  if (!text) return null;
  try {
    return JSON.parse(text) as Kept;
  } catch {
    return null;
  }
}

export function forget(id: number) {
  localStorage.removeItem(key(id));
}
