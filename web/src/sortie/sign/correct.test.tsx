/** Correcting one thing of a signed attempt: what stands there, and what is sent. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Attempt, Sortie } from "../../api/types";
import { attempt as noted, sortie } from "../../fixtures";
import type { SortieWork } from "../useSortie";
import { Correct, stands } from "./Correct";

const attempt = { id: "a1", grade: "Sound", faults: ["rudder_half"], lowest_ft: 4200 } as unknown as Attempt;
const since = (what: string, after: unknown, about = "", of = "a1") =>
  ({
    by: "Bo",
    at: "2026-12-02T10:00:00Z",
    reason: "Typo",
    text: "",
    what: { attempt: of, what, about, before: null, after },
  }) as unknown as Sortie["corrections"][number];

test.each([
  ["grade", "", [], "Sound"],
  ["grade", "", [since("grade", "Guided")], "Guided"],
  ["grade", "", [since("grade", "Guided"), since("grade", "Not yet")], "Not yet"],
  ["grade", "", [since("grade", null)], null],
  ["grade", "", [since("grade", "Guided", "", "a2"), since("lowest_ft", 10)], "Sound"],
  ["turns", "", [], null],
  ["fault", "rudder_half", [], true],
  ["fault", "power_late", [], false],
  ["fault", "rudder_half", [since("fault", false, "rudder_half")], false],
  ["fault", "power_late", [since("fault", true, "rudder_half")], false],
] as const)("what counts of %s %s is what was corrected last", (what, about, corrections, counts) => {
  expect(stands(attempt, [...corrections], what, about)).toBe(counts);
});

async function choose(label: string, option: RegExp) {
  await userEvent.click(screen.getByRole("combobox", { name: label }));
  await userEvent.click(await screen.findByRole("option", { name: option }));
}

const catalogue = {
  figures: [],
  flown_by: [],
  earned: { "student with talk": ["Guided", "Sound"], "instructor shows": ["Shown"] },
};

async function sent(fill: () => Promise<void>, corrections: Sortie["corrections"] = []): Promise<unknown> {
  const bodies: unknown[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    if (request.url.endsWith("/api/catalogue")) return Response.json(catalogue);
    if (request.method !== "POST") return new Promise(() => undefined);
    bodies.push(await request.json());
    return new Response("{}", { status: 201, headers: { "content-type": "application/json" } });
  });
  const flown = noted(sortie().plan.figures[0]!, {
    id: "a1",
    grade: "Sound",
    lowest_ft: 4200,
    flown_by: "student with talk",
  });
  const signed = sortie({ stage: "signed", attempts: [flown], attempt_titles: { a1: "Spin" }, corrections });
  const work = { sortie: signed, accept: () => undefined } as unknown as SortieWork;
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Correct work={work} />
    </QueryClientProvider>,
  );
  await fill();
  await userEvent.type(screen.getByRole("textbox", { name: "Reason" }), "Typo");
  await userEvent.click(screen.getByRole("button", { name: "Add beside the record" }));
  await waitFor(() => expect(bodies).toHaveLength(1));
  return bodies[0];
}

test("a grade is sent with what stood there", async () => {
  const body = await sent(async () => {
    await choose("Of", /1 Spin/);
    expect(screen.getByRole("button", { name: "Add beside the record" })).toBeDisabled();
    await choose("Correct is", /Guided/);
  });
  const what = { attempt: "a1", what: "grade", about: "", before: "Sound", after: "Guided" };
  expect(body).toEqual({ reason: "Typo", what });
});

test("of one that was corrected before, what counts by then", async () => {
  const fill = async () => {
    await choose("Of", /1 Spin/);
    await choose("What was noted wrongly", /Lowest/);
    const field = screen.getByRole("textbox", { name: "Correct is" });
    expect(field).toHaveValue("3900");
    await userEvent.clear(field);
    await userEvent.type(field, "4000");
    await userEvent.tab();
  };
  const body = await sent(fill, [since("lowest_ft", 3900)]);
  const what = { attempt: "a1", what: "lowest_ft", about: "", before: 3900, after: 4000 };
  expect(body).toEqual({ reason: "Typo", what });
});

test("the grades offered are those that whoever flew it by now can earn", async () => {
  const fill = async () => {
    await choose("Of", /1 Spin/);
    await choose("Correct is", /Shown/);
  };
  const body = await sent(fill, [since("flown_by", "instructor shows")]);
  expect(body).toMatchObject({ what: { before: "Sound", after: "Shown" } });
});

test("anything else is said in words", async () => {
  const body = await sent(() =>
    userEvent.type(screen.getByRole("textbox", { name: "What is correct" }), "Flown from the rear seat"),
  );
  expect(body).toEqual({ reason: "Typo", text: "Flown from the rear seat" });
});
