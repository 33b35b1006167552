import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Person, Sortie } from "../api/types";
import { READING_ONLY, sortie } from "../fixtures";
import { inZone } from "../frame/dates";
import { Booked } from "./Booked";
import { BookingDialog } from "./BookingDialog";
import { useSortie } from "./useSortie";

const BO: Person = { id: 2, name: "Bo", role: "instructor", student_id: null };
const CY: Person = { id: 3, name: "Cy", role: "instructor", student_id: null };
const sent: { url: string; body: unknown }[] = [];
let reply: Partial<Sortie> = {};

function stub() {
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url).pathname;
    if (request.method === "POST") sent.push({ url, body: (await request.json()) as unknown });
    const answer =
      url === "/api/instructors"
        ? [
            { id: 2, name: "Bo" },
            { id: 3, name: "Cy" },
          ]
        : request.method === "POST"
          ? sortie({ version: 4, ...reply })
          : {};
    return new Response(JSON.stringify(answer), { headers: { "content-type": "application/json" } });
  });
}

function Shown({ first, person, of }: { first: Sortie; person: Person; of: "dialog" | "alert" }) {
  const work = useSortie(first);
  return of === "alert" ? (
    <Booked work={work} person={person} />
  ) : (
    <BookingDialog work={work} person={person} onClose={() => closed()} />
  );
}
const closed = vi.fn<() => void>();

function show(first: Sortie, person = BO, of: "dialog" | "alert" = "dialog") {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Shown first={first} person={person} of={of} />
    </QueryClientProvider>,
  );
}

beforeEach(() => {
  inZone("utc");
  sent.length = 0;
  reply = {};
  closed.mockClear();
  stub();
});

const others = { may: { ...READING_ONLY, book: true } };

it("is handed over by choosing another instructor, on the version that was read", async () => {
  show(sortie());
  expect(screen.getByRole("button", { name: "Store the booking" })).toBeDisabled();
  await userEvent.click(await screen.findByRole("combobox", { name: "Instructor" }));
  await userEvent.click(await screen.findByRole("option", { name: "Cy" }));
  await userEvent.click(screen.getByRole("button", { name: "Store the booking" }));
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(sent).toEqual([
    {
      url: "/api/sorties/7/booking",
      body: { version: 3, planned_for: "2026-05-14T10:00:00Z", instructor_id: 3 },
    },
  ]);
});

it("who opens a colleague's has themselves chosen, and leaves without being asked", async () => {
  show(sortie(others), CY);
  expect(await screen.findByRole("button", { name: "Take it over" })).toBeEnabled();
  await userEvent.click(screen.getByRole("button", { name: "Leave it as it was" }));
  expect(closed).toHaveBeenCalled();
  expect(sent).toEqual([]);
});

it("a reason that was typed is not dropped without a question, and cancels when it is sent", async () => {
  show(sortie());
  expect(screen.getByRole("button", { name: "Cancel the sortie" })).toBeDisabled();
  await userEvent.type(screen.getByRole("textbox", { name: "Reason to cancel" }), "wind too strong");
  await userEvent.keyboard("{Escape}");
  expect(closed).not.toHaveBeenCalled();
  await userEvent.click(screen.getByRole("button", { name: "Go on with it" }));
  await userEvent.click(screen.getByRole("button", { name: "Cancel the sortie" }));
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(sent).toEqual([{ url: "/api/sorties/7/cancel", body: { version: 3, reason: "wind too strong" } }]);
});

it("says who did what to it, in order", () => {
  const at = (minute: number) => `2026-05-14T09:0${minute}:00Z`;
  show(
    sortie({
      stage_changes: [{ stage: "briefed", by: "Bo", at: at(1) }],
      rebooked: [
        { what: "time", before: "2026-05-14T10:00:00Z", after: "2026-05-15T09:00:00Z", by: "Cy", at: at(2) },
        { what: "cancelled", before: "", after: "Wind too strong", by: "Bo", at: at(0) },
      ],
    }),
  );
  const said = within(screen.getByRole("list", { name: "What became of it so far" })).getAllByRole(
    "listitem",
  );
  expect(said.map((line) => line.textContent?.replace(/^.*?, /, ""))).toEqual([
    "Bo: cancelled. Wind too strong",
    "Bo: marked as briefed",
    "Cy: time Thu 14 May 10:00 → Fri 15 May 09:00",
  ]);
});

describe("above the sortie", () => {
  it("a colleague's says whose it is", () => {
    show(sortie(others), CY, "alert");
    expect(screen.getByRole("alert")).toHaveTextContent("Bo instructs this one");
  });
  it("one's own says nothing", () => {
    show(sortie(), BO, "alert");
    expect(screen.queryByRole("alert")).toBeNull();
  });
  it("a cancelled one says why, and is put back", async () => {
    show(sortie({ cancelled: "Wind too strong", may: { ...READING_ONLY, book: true } }), BO, "alert");
    expect(screen.getByRole("alert")).toHaveTextContent("Cancelled: Wind too strong");
    await userEvent.click(screen.getByRole("button", { name: "Booking" }));
    expect(screen.queryByLabelText("Reason to cancel")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Put it back" }));
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
    expect(sent).toEqual([{ url: "/api/sorties/7/cancel", body: { version: 3, reason: null } }]);
  });
});
