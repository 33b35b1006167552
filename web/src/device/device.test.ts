import { NO_LETTERS, sortie } from "../fixtures";
import { entriesFor } from "../notes/entry";
import { NoteStore } from "../notes/store";
import { planned } from "../fixtures";
import { quiet } from "../api/client";
import { clockOffset, deviceName, measureClock, serverTime } from "./clock";
import { dataOf, forgetAllBut } from "./database";
import { isFlownSoon, keepIfFlownSoon } from "./kept";
import { forgetWho, isStillToBeLoggedOut, loggedIn, rememberWho, whoWasHere } from "./who";

const DAY = 24 * 3600 * 1000;
const session = {
  person: { id: 3000, name: "Bo", role: "instructor" as const },
  zone: "UTC",
  now: "2026-05-14T10:00:00Z",
  ...NO_LETTERS,
};
let person = 3000;
beforeEach(() => {
  person += 1;
});

describe("who is logged in without a server", () => {
  it("is who was here, for fourteen days", () => {
    rememberWho(session, 0);
    expect(whoWasHere(14 * DAY - 1)?.person?.name).toBe("Bo");
    expect(whoWasHere(14 * DAY)).toBeNull();
  });
  it("is nobody after a log-out, and the server is told later where it could not be told", () => {
    rememberWho(session);
    forgetWho(false);
    expect(whoWasHere()).toBeNull();
    expect(isStillToBeLoggedOut()).toBe(true);
    loggedIn();
    expect(isStillToBeLoggedOut()).toBe(false);
    forgetWho(false);
    forgetWho(true);
    expect(isStillToBeLoggedOut()).toBe(false);
  });
});

describe("the clocks", () => {
  it("are compared at the middle of question and answer", () => {
    measureClock(
      "2026-05-14T11:00:00.500Z",
      Date.parse("2026-05-14T10:00:00Z"),
      Date.parse("2026-05-14T10:00:01Z"),
    );
    expect(clockOffset()).toBe(3600);
    expect(serverTime(Date.parse("2026-05-14T10:00:00Z"))).toBe("2026-05-14T11:00:00.000Z");
  });
  it("have a device that keeps its name", () => {
    expect(deviceName()).toBe(deviceName());
    expect(deviceName()).toHaveLength(32);
  });
});

describe("sorties on the device", () => {
  const now = Date.parse("2026-05-14T10:00:00Z");
  const on = (days: number, over = {}) => ({
    stage: "briefed" as const,
    cancelled: null,
    planned_for: new Date(now + days * DAY).toISOString(),
    ...over,
  });
  it("are those that are briefed for today and the next seven days", () => {
    expect([-0.5, 0, 7, 7.9].map((days) => isFlownSoon(on(days), now))).toEqual([true, true, true, true]);
    expect([-1.1, 8.1].map((days) => isFlownSoon(on(days), now))).toEqual([false, false]);
    expect(isFlownSoon(on(0, { stage: "planned" }), now)).toBe(false);
    expect(isFlownSoon(on(0, { cancelled: "wind" }), now)).toBe(false);
  });
  it("are written to the end though another person's are written meanwhile", async () => {
    const put = keepIfFlownSoon(person, sortie({ stage: "briefed", planned_for: new Date().toISOString() }));
    expect(await dataOf(person + 1000).sorties.count()).toBe(0);
    await put;
    expect(await dataOf(person).sorties.count()).toBe(1);
  });
  it("go when they are signed", async () => {
    const at = new Date().toISOString();
    await keepIfFlownSoon(person, sortie({ stage: "briefed", planned_for: at }));
    expect(await dataOf(person).sorties.count()).toBe(1);
    await keepIfFlownSoon(person, sortie({ stage: "signed", planned_for: at }));
    expect(await dataOf(person).sorties.count()).toBe(0);
  });
  it("are answered from where there is no server, and what is not there says so", async () => {
    rememberWho({ ...session, person: { ...session.person, id: person } });
    await keepIfFlownSoon(person, sortie({ stage: "briefed", planned_for: new Date().toISOString() }));
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
    const get = (sortie_id: number) =>
      quiet.GET("/api/sorties/{sortie_id}", { params: { path: { sortie_id } } });
    expect((await get(7)).data?.lesson_name).toBe("Spins, both ways");
    await expect(get(8)).rejects.toThrow("the server does not answer");
    localStorage.setItem("keelturn.clock", "12");
    expect((await quiet.GET("/api/session")).data?.person?.name).toBe("Bo");
    expect(clockOffset()).toBe(12);
  });
  it("go with a log-out, but for the entries that nobody else has", async () => {
    await keepIfFlownSoon(person, sortie({ stage: "briefed", planned_for: new Date().toISOString() }));
    const store = new NoteStore(person);
    const noted = entriesFor([], { id: "f1", planned: planned("f1") }, { feel: 7 });
    await store.add(7, noted);
    await store.mark(7, new Set([noted[0]?.id ?? ""]), "sent");
    expect(await forgetAllBut(person)).toBe(1);
    expect(await dataOf(person).sorties.count()).toBe(0);
    expect((await dataOf(person).entries.toArray()).map((k) => k.id)).toEqual([noted[1]?.id]);
    await new NoteStore(person).load(7);
    await store.mark(7, new Set([noted[1]?.id ?? ""]), "sent");
    expect(await forgetAllBut(person)).toBe(0);
  });
});
