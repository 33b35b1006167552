/** What was noted on this device, sortie by sortie: in memory for the screen, and in the device's database from the moment
 * of the tap, until the server has it and a fortnight after. */
import type { Entry, Problem } from "../api/types";
import { dataOf, type KeptEntry } from "../device/database";

type Listener = () => void;
const NONE: readonly KeptEntry[] = [];

/** One person's entries. */
export class NoteStore {
  private kept = new Map<number, readonly KeptEntry[]>();
  private loads = new Map<number, Promise<void>>();
  private listeners = new Set<Listener>();
  private n = Date.now();
  /** Entries that the device did not take: they are in this page only. */ unstored = new Set<string>();

  constructor(readonly person: number) {}

  subscribe = (tell: Listener) => {
    this.listeners.add(tell);
    return () => void this.listeners.delete(tell);
  };

  of(sortie: number): readonly KeptEntry[] {
    return this.kept.get(sortie) ?? NONE;
  }

  /** Those of the device into memory; what was noted meanwhile stays. */
  load(sortie: number): Promise<void> {
    const loading = this.loads.get(sortie) ?? this.read(sortie);
    this.loads.set(sortie, loading);
    return loading;
  }

  /** Once more: another page of this device may have noted something. */
  async read(sortie: number) {
    const there = await dataOf(this.person)
      .entries.where("sortie")
      .equals(sortie)
      .toArray()
      .catch(() => []);
    const here = new Map(this.of(sortie).map((k) => [k.id, k]));
    for (const kept of there) here.set(kept.id, kept);
    this.put(
      sortie,
      [...here.values()].sort((a, b) => a.n - b.n),
    );
  }

  /** Shown at once, stored at once. Resolves when the device has them; false where it does not take them. */
  async add(sortie: number, entries: readonly Entry[]): Promise<boolean> {
    const kept = entries.map((entry): KeptEntry => {
      this.n = Math.max(this.n + 1, Date.now());
      return { id: entry.id, sortie, n: this.n, entry, state: "waiting" };
    });
    for (const { id } of kept) this.unstored.add(id);
    this.put(sortie, [...this.of(sortie), ...kept]);
    try {
      await dataOf(this.person).entries.bulkPut(kept);
      for (const { id } of kept) this.unstored.delete(id);
      return true;
    } catch {
      return false;
    } finally {
      this.tell();
    }
  }

  /** What became of some of them at the server. */
  async mark(sortie: number, ids: ReadonlySet<string>, state: KeptEntry["state"], why?: Problem) {
    const changed = this.of(sortie).map((k) => (ids.has(k.id) ? { ...k, state, why } : k));
    this.put(sortie, changed);
    if (state === "sent") for (const id of ids) this.unstored.delete(id);
    const stored = changed.filter((k) => ids.has(k.id) && !this.unstored.has(k.id));
    await dataOf(this.person)
      .entries.bulkPut(stored)
      .catch(() => undefined);
  }

  /** The sorties of which something waits, those noted first before the others. */
  async waiting(): Promise<number[]> {
    const rows = await dataOf(this.person)
      .entries.where("state")
      .equals("waiting")
      .toArray()
      .catch(() => []);
    const here = [...this.kept].flatMap(([, kept]) => kept.filter((k) => k.state === "waiting"));
    return [...new Set([...rows, ...here].sort((a, b) => a.n - b.n).map((k) => k.sortie))];
  }

  private put(sortie: number, kept: readonly KeptEntry[]) {
    this.kept.set(sortie, kept);
    this.tell();
  }

  private tell() {
    for (const listener of this.listeners) listener();
  }
}

let store: NoteStore | null = null;
export function storeOf(person: number): NoteStore {
  if (store?.person !== person) store = new NoteStore(person);
  return store;
}
