/** Keeping them on the device by itself, and showing which are there. */
import { liveQuery } from "dexie";
import { useEffect, useState } from "react";
import { answered, quiet } from "../api/client";
import { dataOf } from "./database";
import { isFlownSoon, keepIfFlownSoon } from "./kept";
import { DAYS } from "./who";

const EVERY_MS = 10 * 60 * 1000,
  DAY_MS = 24 * 3600 * 1000;

/** All of them as they are now, and nothing that is older than a fortnight. */
async function keepAll(person: number) {
  const today = await answered(quiet.GET("/api/today"));
  const soon = today.sorties.filter((s) => s.mine && isFlownSoon(s, Date.parse(today.now)));
  for (const { id } of soon) {
    const sortie = await answered(
      quiet.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id: id } } }),
    );
    await keepIfFlownSoon(person, sortie);
  }
  const wanted = new Set(soon.map((s) => s.id));
  const { sorties, entries } = dataOf(person);
  await sorties.filter((k) => !wanted.has(k.id)).delete();
  await entries.filter((k) => k.state === "sent" && k.n < Date.now() - DAYS * DAY_MS).delete();
}

/** While somebody is logged in, again and again and whenever the network is back. */
export function useKeeping(person: number) {
  useEffect(() => {
    const keep = () => void keepAll(person).catch(() => undefined);
    const first = setTimeout(keep, 1500);
    const timer = setInterval(keep, EVERY_MS);
    window.addEventListener("online", keep);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
      window.removeEventListener("online", keep);
    };
  }, [person]);
}

/** Since when each sortie is on this device as it is, in ms, by its number. */
export function useKept(person: number): ReadonlyMap<number, number> {
  const [kept, setKept] = useState<ReadonlyMap<number, number>>(new Map());
  useEffect(() => {
    const watched = liveQuery(() => dataOf(person).sorties.toArray()).subscribe({
      next: (all) => setKept(new Map(all.map((k) => [k.id, k.at]))),
      error: () => setKept(new Map()),
    });
    return () => watched.unsubscribe();
  }, [person]);
  return kept;
}
