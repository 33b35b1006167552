import { act, renderHook, waitFor } from "@testing-library/react";
import { dataOf } from "../device/database";
import { forgetWho, rememberWho } from "../device/who";
import { NO_LETTERS, planned, sortie } from "../fixtures";
import { entriesFor } from "./entry";
import { Outbox } from "./outbox";
import { NoteStore } from "./store";
import { useNotes } from "./useNotes";

let person = 2000;
const f1 = { id: "f1", planned: planned("f1") };
interface Sent {
  url: string;
  ids: string[];
}
let sent: Sent[] = [];
type Reply = (ids: string[], n: number) => Response | Promise<Response>;
const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
const taken: Reply = (ids) =>
  json({ noted: ids.length, known: ids, refused: [], now: "2026-05-14T10:00:00Z" });

function server(reply: Reply) {
  sent = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const { entries } = (await request.json()) as { entries: { id: string }[] };
    const ids = entries.map((e) => e.id);
    sent.push({ url: new URL(request.url).pathname, ids });
    return reply(ids, sent.length);
  });
}
const lost: Reply = () => {
  throw new TypeError("Failed to fetch");
};
const some = (n: number) =>
  Array.from({ length: n }, (_, i) => entriesFor([], { ...f1, id: `f${i}` }, { feel: 7 })).flat();
const states = (store: NoteStore) => store.of(7).map((k) => k.state);

beforeEach(() => {
  person += 1;
  rememberWho({
    person: { id: person, name: "Bo", role: "instructor" },
    zone: "UTC",
    now: "",
    ...NO_LETTERS,
  });
});

describe("what was noted", () => {
  it("is on the device as soon as it was tapped, and there again after the page was killed", async () => {
    const noted = entriesFor([], f1, { start_ft: 5000, feel: 7 });
    expect(await new NoteStore(person).add(7, noted)).toBe(true);
    const again = new NoteStore(person);
    await again.load(7);
    expect(again.of(7).map((k) => [k.entry.what, k.state])).toEqual([
      ["figure", "waiting"],
      ["start_ft", "waiting"],
      ["feel", "waiting"],
    ]);
    expect(await again.waiting()).toContain(7);
  });
  it("stays in the page where the device is full, is sent all the same, and keeps what was there", async () => {
    const store = new NoteStore(person);
    await store.add(7, entriesFor([], f1, { feel: 7 }));
    const full = vi.spyOn(dataOf(person).entries, "bulkPut").mockRejectedValue(new Error("QuotaExceeded"));
    expect(await store.add(7, entriesFor([], f1, { feel: 6 }))).toBe(false);
    expect(store.unstored.size).toBe(2);
    full.mockRestore();
    server(taken);
    await new Outbox(store).send();
    expect(sent[0]?.ids).toHaveLength(4);
    expect(store.unstored.size).toBe(0);
    const again = new NoteStore(person);
    await again.load(7);
    expect(
      again
        .of(7)
        .filter((k) => k.entry.what === "feel")
        .map((k) => k.entry.value),
    ).toContain(7);
  });
  it("is another's on the same device, and nobody sees it", async () => {
    await new NoteStore(person).add(7, entriesFor([], f1, { feel: 7 }));
    const other = new NoteStore(person + 500);
    await other.load(7);
    expect(other.of(7)).toEqual([]);
    expect(await other.waiting()).toEqual([]);
  });
});

describe("sending", () => {
  it("sends all of it in batches, each once, and remembers the server's clock", async () => {
    const store = new NoteStore(person);
    const all = some(350);
    await store.add(7, all);
    server(taken);
    await new Outbox(store).send();
    expect(sent.map((s) => s.ids.length)).toEqual([500, 200]);
    expect(new Set(sent.flatMap((s) => s.ids)).size).toBe(700);
    expect(new Set(states(store))).toEqual(new Set(["sent"]));
    expect(Number(localStorage.getItem("keelturn.clock"))).not.toBe(0);
    await new Outbox(store).send();
    expect(sent).toHaveLength(2);
  });
  it("keeps what waits while nobody answers, and sends it when somebody does", async () => {
    const store = new NoteStore(person);
    await store.add(7, some(1));
    server(lost);
    const outbox = new Outbox(store);
    await outbox.send();
    expect([outbox.link, ...states(store)]).toEqual(["offline", "waiting", "waiting"]);
    server(taken);
    window.dispatchEvent(new Event("online"));
    await waitFor(() => expect(states(store)).toEqual(["sent", "sent"]));
    await waitFor(() => expect(outbox.link).toBe("idle"));
    outbox.stop();
  });
  it("says that somebody has to log in, and asks nobody", async () => {
    const store = new NoteStore(person);
    await store.add(7, some(1));
    server(() => json({ problems: [] }, 401));
    const outbox = new Outbox(store);
    await outbox.send();
    expect([outbox.link, ...states(store)]).toEqual(["logged out", "waiting", "waiting"]);
    outbox.stop();
  });
  it("keeps the one that is wrong with why, and sends the others", async () => {
    const store = new NoteStore(person);
    const all = some(2);
    await store.add(7, all);
    const why = { where: "entries[1].feel", place: "Entry 2, Feel", what: "17 is above 10", do: "Give 10." };
    server((ids, n) => (n === 1 ? json({ problems: [why] }, 422) : taken(ids, n)));
    await new Outbox(store).send();
    expect(
      store
        .of(7)
        .filter((k) => k.state === "refused")
        .map((k) => [k.id, k.why?.what]),
    ).toEqual([[all[1]?.id, "17 is above 10"]]);
    expect(sent[1]?.ids).toEqual([all[0]?.id, all[2]?.id, all[3]?.id]);
  });
  it("keeps all of it, with why, where the sortie takes none", async () => {
    const store = new NoteStore(person);
    await store.add(7, some(1));
    const why = { where: "access", place: "Access", what: "this record is signed", do: "Add a correction." };
    server(() => json({ problems: [why] }, 403));
    const outbox = new Outbox(store);
    await outbox.send();
    expect([outbox.link, ...states(store)]).toEqual(["refused", "refused", "refused"]);
    expect(store.of(7)[0]?.why?.what).toBe("this record is signed");
  });
  it("sends nothing in the name of another, nor of nobody", async () => {
    const store = new NoteStore(person);
    await store.add(7, some(1));
    server(taken);
    const outbox = new Outbox(store);
    forgetWho(true);
    await outbox.send();
    rememberWho({
      person: { id: person + 1, name: "Cy", role: "instructor" },
      zone: "UTC",
      now: "",
      ...NO_LETTERS,
    });
    await outbox.send();
    expect([sent.length, outbox.link, ...states(store)]).toEqual([0, "logged out", "waiting", "waiting"]);
    outbox.stop();
  });
  it("believes only what the server says of each", async () => {
    const store = new NoteStore(person);
    await store.add(7, some(1));
    const [one = "", two = ""] = store.of(7).map((k) => k.id);
    const problem = { where: "id", place: "Entry", what: "another sortie has it", do: "Note it again." };
    server(() => json({ noted: 0, known: [], refused: [{ id: one, problem }], now: "2026-05-14T10:00:00Z" }));
    await new Outbox(store).send();
    expect(store.of(7).map((k) => [k.id, k.state, k.why?.what])).toEqual([
      [one, "refused", "another sortie has it"],
      [two, "refused", "the server did not say what became of it"],
    ]);
  });
});

describe("a sortie's notes", () => {
  it("are those of the server and of this device together, with undo, and are sent by themselves", async () => {
    server(taken);
    const there = entriesFor([], f1, { start_ft: 5000 });
    const first = sortie({ stage: "briefed", entries: there });
    const { result } = renderHook(() => useNotes(person, first, "fly"));
    act(() => result.current.note(f1, { start_ft: 5100, fault: { soft_pull: true } }));
    expect(result.current.attempts[0]).toMatchObject({ start_ft: 5100, faults: ["soft_pull"] });
    act(() => result.current.undo());
    expect(result.current.attempts[0]).toMatchObject({ start_ft: 5000, faults: [] });
    act(() => result.current.redo());
    expect(result.current.attempts[0]).toMatchObject({ start_ft: 5100, faults: ["soft_pull"] });
    await waitFor(() => expect(result.current.waiting).toBe(0));
    expect(sent.flatMap((s) => s.ids)).toHaveLength(6);
    expect(result.current.count).toBe(8);
    expect(await result.current.flush()).toBe(true);
  });
  it("are without what the server refused, where the record is read", async () => {
    const why = { where: "access", place: "Access", what: "not briefed", do: "Brief it." };
    server(() => json({ problems: [why] }, 403));
    const first = sortie({ stage: "briefed" });
    const { result, rerender } = renderHook(({ stage }) => useNotes(person, first, stage), {
      initialProps: { stage: "fly" },
    });
    act(() => result.current.note(f1, { feel: 7 }));
    await waitFor(() => expect(result.current.refused).toHaveLength(2));
    expect([result.current.count, result.current.attempts.length]).toEqual([2, 1]);
    rerender({ stage: "sign" });
    expect([result.current.count, result.current.attempts.length]).toEqual([0, 0]);
  });
  it("undo only what was noted at the same stage", () => {
    server(lost);
    const first = sortie({ stage: "flown" });
    const { result, rerender } = renderHook(({ stage }) => useNotes(person, first, stage), {
      initialProps: { stage: "fly" },
    });
    act(() => result.current.note(f1, { feel: 7 }));
    rerender({ stage: "debrief" });
    expect(result.current.undoAt).toBe(0);
    act(() => result.current.undo());
    expect(result.current.attempts[0]?.feel).toBe(7);
  });
});
