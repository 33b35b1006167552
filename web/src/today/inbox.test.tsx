import { act, render, screen, waitFor } from "@testing-library/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import type { Waiting } from "../api/types";
import { Inbox } from "./Inbox";

const waits = (over: Partial<Waiting> = {}): Waiting => ({
  id: 5,
  name: "tuesday.igc",
  size: 4000,
  began: "2026-05-12T14:05:00Z",
  aircraft: "QX-ROE",
  by: "Ilse Quorn",
  at: "2026-05-12T17:00:00Z",
  fits: [
    { sortie_id: 17, student: "Corin Vashley", planned_for: "2026-05-12T14:00:00Z", aircraft: "QX-ROE" },
  ],
  ...over,
});

class Sending {
  static last: Sending;
  status = 201;
  response: unknown = {};
  upload = { onprogress: null, onload: null };
  onload = () => undefined as void;
  url = "";
  constructor() {
    Sending.last = this;
  }
  open(_: string, url: string) {
    this.url = url;
  }
  setRequestHeader() {}
  send() {}
}

function show(list: Waiting[]) {
  const asked: string[] = [];
  vi.stubGlobal("XMLHttpRequest", Sending);
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(`${request.method} ${new URL(request.url).pathname}`);
    return Promise.resolve(Response.json(list));
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <Inbox />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return asked;
}

describe("recordings that wait", () => {
  it("are offered to the sorties they fit", async () => {
    show([waits()]);
    const offer = await screen.findByRole("link", { name: /^Into Corin Vashley, .*14:00, QX-ROE$/ });
    expect(offer).toHaveAttribute("href", "/sorties/17/debrief?inbox=5");
    expect(screen.getByText("Recordings in no sortie yet: 1")).toBeVisible();
    expect(screen.getByText(/^recorded .*14:05 to its clock, QX-ROE, read in by Ilse Quorn$/)).toBeVisible();
  });
  it("say where they fit none, and what they do not say", async () => {
    show([waits({ fits: [], began: null, aircraft: "" })]);
    expect(await screen.findByText("Fits no briefed sortie of yours; it waits here.")).toBeVisible();
    expect(screen.getByText("it does not say when, read in by Ilse Quorn")).toBeVisible();
  });
  it("are thrown away only when asked twice", async () => {
    const asked = show([waits()]);
    await userEvent.click(await screen.findByRole("button", { name: "Throw away…" }));
    await userEvent.click(screen.getByRole("button", { name: "Keep it" }));
    await userEvent.click(screen.getByRole("button", { name: "Throw away…" }));
    expect(asked).toEqual(["GET /api/inbox"]);
    await userEvent.click(screen.getByRole("button", { name: "Throw it away for good" }));
    await waitFor(() => expect(asked.slice(1)).toEqual(["POST /api/inbox/5/throw-away", "GET /api/inbox"]));
  });
  it("are read in here, and asked for anew", async () => {
    const asked = show([]);
    await userEvent.upload(screen.getByLabelText("Recorder's file"), new File(["x"], "new.csv"));
    expect(await screen.findByText("0 % sent")).toBeVisible();
    expect(Sending.last.url).toBe("/api/inbox?name=new.csv");
    const before = asked.length;
    act(() => Sending.last.onload());
    await waitFor(() => expect(asked.length).toBe(before + 1));
    await waitFor(() => expect(screen.queryByText("0 % sent")).toBeNull());
  });
});
