import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { expect, it } from "vitest";
import { answering } from "../answering";
import type { Person, Week } from "../api/types";
import { inZone } from "../frame/dates";
import { booked, weekOf } from "./fixtures";
import WeekPage from "./WeekPage";

inZone("Europe/London");
beforeEach(() => inZone("Europe/London"));
const TAM = { id: 7, name: "Tam", role: "instructor" } as Person;

function shown(week: Week, person = TAM) {
  const asked = answering({ "/api/week": week });
  const router = createMemoryRouter([
    { element: <Outlet context={person} />, children: [{ path: "/", element: <WeekPage /> }] },
  ]);
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return asked;
}
const bar = () => screen.findByRole("button", { name: /Petra/ });

it("moves by the arrow keys and stores with Enter what it then is", async () => {
  const asked = shown(weekOf([booked({})]));
  const petra = await bar();
  petra.focus();
  fireEvent.keyDown(petra, { key: "ArrowRight" });
  fireEvent.keyDown(petra, { key: "ArrowRight", shiftKey: true });
  fireEvent.keyDown(petra, { key: "ArrowDown" });
  expect(screen.getByText("Wed 9 Sept 10:45 to 12:30")).toBeTruthy();
  expect(screen.getByText(/Petra, QX-COR, Tam Ferrand/)).toBeTruthy();
  fireEvent.keyDown(petra, { key: "Enter" });
  await waitFor(() => expect(asked.sent.map((s) => s.path)).toEqual(["/api/sorties/1/booking"]));
  expect(asked.sent[0]?.body).toMatchObject({
    version: 1,
    planned_for: "2026-09-09T09:45:00.000Z",
    aircraft_id: 6,
    instructor_id: 7,
    minutes: 105,
  });
});

it("goes over the edge of a day into the next, and no further than the week", async () => {
  shown(weekOf([booked({})]));
  const petra = await bar();
  petra.focus();
  for (const key of ["ArrowDown", "ArrowDown"]) fireEvent.keyDown(petra, { key });
  expect(screen.getByText("Thu 10 Sept 10:30 to 12:00")).toBeTruthy();
  for (let n = 0; n < 20; n++) fireEvent.keyDown(petra, { key: "ArrowDown" });
  expect(screen.getByText("Sun 13 Sept 10:30 to 12:00")).toBeTruthy();
  fireEvent.keyDown(petra, { key: "Escape" });
  expect(screen.getByText("Wed 9 Sept 10:30 to 12:00")).toBeTruthy();
});

it("does not move what the asker may not, nor what is cancelled", async () => {
  shown(weekOf([booked({ may_book: false })]));
  const petra = await bar();
  petra.focus();
  fireEvent.keyDown(petra, { key: "ArrowRight" });
  expect(await screen.findByText("Wed 9 Sept 10:30 to 12:00")).toBeTruthy();
  cleanup();
  shown(weekOf([booked({ cancelled: "wind" })]));
  const gone = await bar();
  gone.focus();
  fireEvent.keyDown(gone, { key: "ArrowRight" });
  expect(await screen.findByText("Cancelled: wind")).toBeTruthy();
  expect(screen.queryByText("Move it")).toBeNull();
});

it("says before it is stored that a briefed one is briefed again", async () => {
  shown(weekOf([booked({ stage: "briefed" })]));
  const petra = await bar();
  petra.focus();
  fireEvent.keyDown(petra, { key: "ArrowLeft" });
  expect(screen.getByText("It is briefed again.")).toBeTruthy();
  fireEvent.click(screen.getByText("Leave it"));
  expect(screen.getByText("Wed 9 Sept 10:30 to 12:00")).toBeTruthy();
});

it("shows a student their bookings and offers no planning", async () => {
  shown(weekOf([booked({ may_book: false })]), { ...TAM, id: 17, role: "student" });
  await bar();
  expect(screen.queryByText("Plan a sortie")).toBeNull();
  expect(screen.queryByText("Dates")).toBeNull();
});
