import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { expect, it } from "vitest";
import { answering } from "../answering";
import type { Requirements as Found } from "../api/types";
import { Requirements } from "./Requirements";

const FOUND: Found = {
  person_id: 17,
  name: "Petra",
  may_state: true,
  standings: [
    {
      requirement: {
        key: "upset_course",
        name: "Advanced upset course",
        whom: "student",
        gives: "the certificate",
        source: "FCL.745.A, from memory",
        asks: [],
        families: [],
        course: "upset_recovery",
        any_of: false,
      },
      met: false,
      not_counted: ["1 flight debriefed and not signed"],
      lines: [
        {
          what: "flight",
          words: "Flight training",
          unit: "h",
          has: 2.0166667,
          asked: 3,
          missing: "0 h 59",
          counted: [{ words: "Nose low", on: "2026-05-01", amount: 0.75, sortie: 4 }],
        },
        {
          what: "signature",
          words: "Completed",
          unit: "signature",
          has: 0,
          asked: 1,
          missing: "nobody's signature is on record",
          counted: [],
        },
      ],
    },
  ],
  stated: [],
};

function shown(found: Found) {
  const asked = answering({ "/api/requirements/17": found });
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter>
        <Requirements person={17} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return asked;
}

it("says how much is there, what is missing and what counts, in hours and minutes", async () => {
  shown(FOUND);
  expect(await screen.findByText("2 h 01 of 3 h")).toBeTruthy();
  expect(screen.getByText(/0 h 59/).textContent).toBe("Missing: 0 h 59");
  expect(screen.getByText("Not counted: 1 flight debriefed and not signed.")).toBeTruthy();
  expect(screen.getByRole("img", { name: "not yet" })).toBeTruthy();
  fireEvent.click(screen.getByText("What counts: 1"));
  expect(screen.getByRole("listitem").textContent).toBe("1 May 2026 Nose low, 0 h 45");
  expect(screen.getByRole("link").getAttribute("href")).toBe("/sorties/4/sign");
});

it("minds what an instructor is missing", async () => {
  const [standing] = FOUND.standings;
  if (!standing) return;
  const instructor = { ...standing, requirement: { ...standing.requirement, whom: "instructor" as const } };
  shown({ ...FOUND, standings: [instructor] });
  expect(await screen.findByRole("img", { name: "mind" })).toBeTruthy();
});

it("puts nothing on record for who may not", async () => {
  shown({ ...FOUND, may_state: false });
  await screen.findByText("Advanced upset course");
  expect(screen.queryByText("Put on record")).toBeNull();
});

it("asks for the hours of what counts in hours, and not of a signature", async () => {
  const asked = shown(FOUND);
  fireEvent.click(await screen.findByText("Put on record"));
  expect(screen.getByRole("combobox", { name: /What/ }).textContent).toBe("A signature");
  expect(screen.queryByLabelText(/Hours/)).toBeNull();
  fireEvent.change(screen.getByLabelText(/Signed by/), { target: { value: "A. Examiner" } });
  expect(screen.getByText<HTMLButtonElement>("Put it on record").disabled).toBe(true);
  fireEvent.click(screen.getByText("Leave it"));
  expect(screen.getByText("What you changed here is not stored.")).toBeTruthy();
  expect(asked.sent).toEqual([]);
});
