import { act, renderHook } from "@testing-library/react";
import { planAnswer, sortie } from "../fixtures";
import { pass, stopTime } from "../passing";
import { draftOf, type Draft } from "./draft";
import { editFigure } from "./edits";
import { useComputed } from "./useComputed";

type Reply = "down" | { status: number; body: unknown };
let asked: number[] = [];
let reply: (start: number) => Reply | Promise<Reply>;

const first = sortie();
const at = (start_ft: number): Draft => editFigure("f1", { start_ft })(draftOf(first));

function computing(draft: Draft) {
  vi.stubGlobal("fetch", async (request: Request) => {
    const { plan } = (await request.json()) as Draft;
    const start = plan.figures[0]?.start_ft ?? 0;
    asked.push(start);
    const found = await reply(start);
    if (found === "down") throw new TypeError("network");
    return Response.json(found.body, { status: found.status });
  });
  return renderHook(({ draft }: { draft: Draft }) => useComputed(first, draft, true), {
    initialProps: { draft },
  });
}
const fine = (stops = 0): Reply => ({ status: 200, body: { ...planAnswer([]), stops } });
beforeEach(() => {
  asked = [];
  stopTime();
});

describe("the plan of a draft", () => {
  it("is stale until the answer is of this draft, and not a moment longer", async () => {
    let give: (found: Reply) => void = () => undefined;
    reply = () => new Promise<Reply>((done) => (give = done));
    const { result, rerender } = computing(draftOf(first));
    expect(result.current.stale).toBeNull();
    expect(asked).toEqual([]);
    rerender({ draft: at(5200) });
    expect(result.current.stale).toBe("computing");
    await pass(2_000);
    expect(asked).toEqual([5200]);
    // The hand has gone on: this answer is already of an earlier draft.
    rerender({ draft: at(5300) });
    act(() => give(fine(1)));
    await pass(2_000);
    expect(asked).toEqual([5200, 5300]);
    expect(result.current.stale).toBe("computing");
    act(() => give(fine(2)));
    await pass(2_000);
    expect(result.current.stale).toBeNull();
    expect(result.current.answer.stops).toBe(2);
  });

  it("says that nobody answers, and is asked again when the network is back", async () => {
    let down = true;
    reply = () => (down ? "down" : fine(2));
    const { result, rerender } = computing(draftOf(first));
    rerender({ draft: at(5200) });
    await pass(2_000);
    expect(result.current.stale).toBe("no answer");
    // Whatever is changed meanwhile is not known either.
    rerender({ draft: at(5300) });
    expect(result.current.stale).toBe("no answer");
    down = false;
    act(() => void window.dispatchEvent(new Event("online")));
    await pass(2_000);
    expect(result.current.stale).toBeNull();
    expect(asked.at(-1)).toBe(5300);
    expect(result.current.answer.stops).toBe(2);
  });

  it("is asked again by itself after a server that failed", async () => {
    reply = () => (asked.length === 1 ? { status: 503, body: {} } : fine(1));
    const { result, rerender } = computing(draftOf(first));
    rerender({ draft: at(5200) });
    await pass(2_000);
    expect(result.current.stale).toBe("no answer");
    await pass(2_000);
    expect(result.current.stale).toBeNull();
    expect(asked).toEqual([5200, 5200]);
  });

  it("that cannot be computed says why, is not fresh, and is not asked for again and again", async () => {
    const problems = [{ where: "plan", place: "Plan", what: "it cannot be", do: "Mend it." }];
    reply = (start) => (start === 5200 ? { status: 422, body: { problems } } : fine());
    const { result, rerender } = computing(draftOf(first));
    rerender({ draft: at(5200) });
    await pass(2_000);
    expect(result.current.stale).toBe("refused");
    expect(result.current.refusal).toEqual(problems);
    await pass(60_000);
    expect(asked).toEqual([5200]);
    rerender({ draft: at(5300) });
    await pass(2_000);
    expect(result.current.stale).toBeNull();
    expect(result.current.refusal).toEqual([]);
  });
});
