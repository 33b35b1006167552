import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import { pass, stopTime } from "../passing";
import { READING_ONLY, planAnswer, sortie } from "../fixtures";
import { editFigure } from "./edits";
import { keep, kept } from "./kept";
import { draftOf } from "./draft";
import { useSortie } from "./useSortie";

interface Call {
  method: string;
  path: string;
  body: Record<string, unknown>;
}
type Answering = (call: Call) => { status: number; body: unknown } | "down";

/** A server of one's own: every call is written down and answered by `answering`; previews are always fine. */
function serverThat(answering: Answering): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const path = new URL(request.url).pathname;
    const call = {
      method: request.method,
      path,
      body: request.method === "GET" ? {} : ((await request.json()) as Record<string, unknown>),
    };
    if (path.endsWith("/preview")) return Response.json(planAnswer([]));
    calls.push(call);
    const answer = answering(call);
    if (answer === "down") throw new TypeError("network");
    return Response.json(answer.body, { status: answer.status });
  });
  return calls;
}

function opened(first = sortie()) {
  const queries = new QueryClient();
  return renderHook(() => useSortie(first), {
    wrapper: ({ children }) => <QueryClientProvider client={queries}>{children}</QueryClientProvider>,
  });
}

const higher = editFigure("f1", { start_ft: 5200 });
beforeEach(() => {
  stopTime();
});

describe("a sortie being worked on", () => {
  it("stores what changed, and only that, on the version it was read in", async () => {
    const calls = serverThat(({ body }) => ({ status: 200, body: { ...sortie(), ...body, version: 4 } }));
    const { result } = opened();
    expect(result.current.save).toBe("saved");
    act(() => result.current.change(higher));
    expect(result.current.save).toBe("unsaved");
    expect(kept(7)?.version).toBe(3);
    await pass(10_000);
    expect(result.current.save).toBe("saved");
    expect(calls).toHaveLength(1);
    expect(calls[0]).toMatchObject({ method: "PUT", path: "/api/sorties/7" });
    expect(Object.keys(calls[0]?.body ?? {}).sort()).toEqual(["plan", "version"]);
    expect(kept(7)).toBeNull();
  });

  it("stores one drag once, and nothing when it is taken back", async () => {
    const calls = serverThat(({ body }) => ({ status: 200, body: { ...sortie(), ...body, version: 4 } }));
    const { result } = opened();
    for (const ft of [5050, 5100, 5150])
      act(() => result.current.change(editFigure("f1", { start_ft: ft }), "drag"));
    act(() => result.current.undo());
    await pass(10_000);
    expect(result.current.draft.plan.figures[0]?.start_ft).toBe(5000);
    expect(calls).toHaveLength(0);
    expect(kept(7)).toBeNull();
  });

  it("keeps what the server refuses, and says where and what to do", async () => {
    const problem = {
      where: "plan.load.front_lb",
      place: "Load, First seat",
      what: "-5 is below 0",
      do: "Give 0 or more.",
    };
    serverThat(() => ({ status: 422, body: { problems: [problem] } }));
    const { result } = opened();
    act(() => result.current.change(higher));
    await pass(10_000);
    expect(result.current.save).toBe("refused");
    expect(result.current.problems).toEqual([problem]);
    expect(kept(7)?.draft.plan.figures[0]?.start_ft).toBe(5200);
  });

  const overtaken = {
    by: "Cy",
    at: "2026-05-14T10:00:00Z",
    version: 9,
    differences: [
      { where: "plan.figures[f1].start_ft", place: "Figure 1 Spin: Start", stored: "5,400", yours: "5,200" },
      { where: "debrief.note", place: "Note on the flight", stored: "theirs", yours: "—" },
    ],
  };
  const stored_by_cy = (start_ft: number) =>
    editFigure("f1", { start_ft })(
      draftOf(sortie({ debrief: { note: "theirs", one_thing: "", moments: [], next: "" } })),
    );

  /** A server on which Cy stored version 9 before us. */
  function afterCy(start_ft: number) {
    const theirs = { ...sortie({ version: 9 }), ...stored_by_cy(start_ft) };
    return serverThat(({ method, body }) => {
      if (method === "GET") return { status: 200, body: theirs };
      if (body.version !== 9) return { status: 409, body: overtaken };
      return { status: 200, body: { ...theirs, ...body, version: 10 } };
    });
  }

  it("puts both together where each changed something else, and reverts nothing of theirs", async () => {
    const calls = afterCy(5000);
    const { result } = opened();
    act(() => result.current.change(higher));
    await pass(10_000);
    expect(calls.filter((c) => c.method === "PUT")).toHaveLength(2);
    await pass(10_000);
    expect(result.current.save).toBe("saved");
    expect(calls.at(-1)?.body).not.toHaveProperty("debrief");
    expect(result.current.draft.debrief.note).toBe("theirs");
    expect(result.current.draft.plan.figures[0]?.start_ft).toBe(5200);
    expect(result.current.told).toMatchObject({ by: "Cy", places: ["Note on the flight"] });
    // What undo takes back now is what Cy stored: it is asked for first.
    expect(result.current.undoesTheirs).toBe("Cy");
  });

  it("asks for what both changed, and stores nothing until it is chosen", async () => {
    const calls = afterCy(5400);
    const { result } = opened();
    act(() => result.current.change(higher));
    await pass(10_000);
    expect(result.current.save).toBe("overtaken");
    expect(result.current.clashes).toEqual([
      { where: "plan.figures[f1].start_ft", mine: 5200, theirs: 5400 },
    ]);
    await pass(10_000);
    expect(calls.filter((c) => c.method === "PUT")).toHaveLength(1);
    expect(kept(7)?.draft.plan.figures[0]?.start_ft).toBe(5200);
    act(() => result.current.putTogether(() => "theirs"));
    await pass(10_000);
    expect(result.current.save).toBe("saved");
    expect(result.current.draft.plan.figures[0]?.start_ft).toBe(5400);
    expect(result.current.draft.debrief.note).toBe("theirs");
  });

  it("stores what is right of a draft in which one entry is wrong, and keeps that where it was typed", async () => {
    const problem = {
      where: "plan.figures[0].start_ft",
      place: "Figure 1, Start",
      what: "no",
      do: "Mend it.",
    };
    const calls = serverThat(({ body }) => {
      const start = (body.plan as { figures: { start_ft: number }[] } | undefined)?.figures[0]?.start_ft;
      return start === 5200
        ? { status: 422, body: { problems: [problem] } }
        : { status: 200, body: { ...sortie(), ...body, version: 4 } };
    });
    const { result } = opened();
    act(() =>
      result.current.change((d) =>
        higher({ ...d, debrief: { note: "kept", one_thing: "", moments: [], next: "" } }),
      ),
    );
    await pass(10_000);
    expect(result.current.save).toBe("refused");
    expect(calls).toHaveLength(2);
    expect(calls[1]?.body).toEqual({
      version: 3,
      debrief: { note: "kept", one_thing: "", moments: [], next: "" },
    });
    expect(result.current.problems).toEqual([problem]);
    expect(result.current.draft.plan.figures[0]?.start_ft).toBe(5200);
    expect(kept(7)).toMatchObject({ version: 4 });
    expect(kept(7)?.draft.plan.figures[0]?.start_ft).toBe(5200);
  });

  it("keeps everything while the network is away", async () => {
    let down = true;
    serverThat(({ body }) => (down ? "down" : { status: 200, body: { ...sortie(), ...body, version: 4 } }));
    const { result } = opened();
    act(() => result.current.change(higher));
    await pass(10_000);
    expect(result.current.save).toBe("offline");
    expect(kept(7)).not.toBeNull();
    down = false;
    await pass(10_000);
    expect(result.current.save).toBe("saved");
    expect(kept(7)).toBeNull();
  });

  it("goes on after a reload with what was not stored yet", () => {
    serverThat(() => "down");
    keep(7, 3, higher(draftOf(sortie())));
    const { result } = opened();
    expect(result.current.draft.plan.figures[0]?.start_ft).toBe(5200);
    expect(result.current.save).toBe("unsaved");
  });

  it("stores before it moves on, and stays when something is missing", async () => {
    const calls = serverThat(({ path, body }) =>
      path.endsWith("/stage")
        ? {
            status: 422,
            body: { problems: [{ where: "stage", what: "Grade 2 attempts", do: "Then try again." }] },
          }
        : { status: 200, body: { ...sortie(), ...body, version: 4 } },
    );
    const { result } = opened();
    act(() =>
      result.current.change((d) => ({ ...d, debrief: { note: "x", one_thing: "", moments: [], next: "" } })),
    );
    let missing: unknown = null;
    await act(async () => {
      missing = await result.current.moveTo("debriefed");
    });
    expect(missing).toMatchObject([{ what: "Grade 2 attempts" }]);
    expect(calls.map((c) => c.path)).toEqual(["/api/sorties/7", "/api/sorties/7/stage"]);
    expect(calls[1]?.body).toEqual({ version: 4, to: "debriefed" });
  });

  it("never overtakes itself: a save under way is waited for before the next call", async () => {
    let version = 3;
    const calls = serverThat(({ path, body }) => {
      if (body.version !== version)
        return { status: 409, body: { by: "Bo", at: "2026-05-14T10:00:00Z", version, differences: [] } };
      version += 1;
      return { status: 200, body: { ...sortie(), ...(path.endsWith("/stage") ? {} : body), version } };
    });
    const { result } = opened();
    act(() => result.current.change(higher));
    await act(async () => {
      await Promise.all([result.current.moveTo("planned"), result.current.moveTo("planned")]);
    });
    await pass(10_000);
    expect(result.current.meanwhile).toBeNull();
    expect(calls.map((c) => [c.method, c.body.version])).toEqual([
      ["PUT", 3],
      ["POST", 4],
      ["POST", 5],
    ]);
  });

  it("changes nothing for somebody who may only read", async () => {
    const calls = serverThat(() => "down");
    const { result } = opened(sortie({ may: READING_ONLY }));
    act(() => result.current.change(higher));
    await pass(10_000);
    expect(calls).toHaveLength(0);
    expect(kept(7)).toBeNull();
  });
});
