/** What is kept on this device: one database for each person, so that nobody finds what is another's. */
import Dexie, { type Table } from "dexie";
import type { Entry, Problem, Sortie } from "../api/types";

/** waiting: the server does not have it yet. refused: it will not have it, and why. */
export interface KeptEntry {
  id: string;
  sortie: number;
  /** The order in which they were noted. */ n: number;
  entry: Entry;
  state: "waiting" | "sent" | "refused";
  why?: Problem;
}

/** A sortie with all that it takes to brief and fly it. */
export interface KeptSortie {
  id: number;
  /** In ms, by this device's clock. */ at: number;
  sortie: Sortie;
}

/** What the server answered last at an address. */
export interface KeptAnswer {
  path: string;
  at: number;
  body: unknown;
}

class DeviceData extends Dexie {
  entries!: Table<KeptEntry, string>;
  sorties!: Table<KeptSortie, number>;
  answers!: Table<KeptAnswer, string>;

  constructor(person: number) {
    super(nameFor(person));
    this.version(1).stores({ entries: "id, sortie, state", sorties: "id", answers: "path" });
  }
}

const nameFor = (person: number) => `keelturn-${person}`;
/** Each stays open: a late write of whoever was here before must not close the database that is written to now. */
const open = new Map<number, DeviceData>();

export function dataOf(person: number): DeviceData {
  const data = open.get(person) ?? new DeviceData(person);
  open.set(person, data);
  return data;
}

/** Everything of this person but the entries that nobody else has. */
export async function forgetAllBut(person: number): Promise<number> {
  const data = dataOf(person);
  const waiting = await data.entries.where("state").notEqual("sent").count();
  if (waiting > 0) {
    await data.transaction("rw", data.entries, data.sorties, data.answers, async () => {
      await data.entries.where("state").equals("sent").delete();
      await data.sorties.clear();
      await data.answers.clear();
    });
    return waiting;
  }
  await data.delete();
  open.delete(person);
  return 0;
}
