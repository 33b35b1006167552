import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import userEvent from "@testing-library/user-event";
import type { LookedAt, Recorded } from "../../api/types";
import { mayAt, sortie } from "../../fixtures";
import type { SortieWork } from "../useSortie";
import { recorded } from "./fixtures";
import { Recordings } from "./Recordings";

const TRACK: LookedAt = {
  headers: [],
  rows: [],
  columns: null,
  remembered: false,
  ready: true,
  choices: [],
};
const TABLE: LookedAt = {
  headers: ["Clock", "Altitude", "Load"],
  rows: [["0.0", "1500", "1.0"]],
  columns: {
    separator: ";",
    decimal: ".",
    columns: [{ header: "Altitude", column: "pressure_height_ft", unit: "ft", sure: false }],
  },
  remembered: false,
  ready: false,
  choices: [
    { column: "time_s", label: "Time", units: ["s", "clock"] },
    { column: "pressure_height_ft", label: "Pressure height", units: ["ft", "m"] },
    { column: "g", label: "g", units: ["g", "m/s2"] },
  ],
};

/** The server: its list, what it sees in a file, and what the page asked of it. */
function serve(list: Recorded[], looked = TRACK) {
  const asked: string[] = [];
  vi.stubGlobal("fetch", (request: Request | string) => {
    const path = typeof request === "string" ? request : new URL(request.url).pathname;
    asked.push(`${typeof request === "string" ? "GET" : request.method} ${path}`);
    if (path === "/api/inbox") return Promise.resolve(Response.json([{ id: 5, name: "tuesday.igc" }]));
    if (path.endsWith("/file")) return Promise.resolve(new Response("Clock"));
    return Promise.resolve(Response.json(path.endsWith("/look") ? looked : list));
  });
  return asked;
}

const mapSent = () => new URLSearchParams(Sending.last.url.split("?")[1]).get("columns");

/** An upload that answers when it is told to. */
class Sending {
  static last: Sending;
  upload: { onprogress?: (e: object) => void; onload?: () => void } = {};
  status = 0;
  response: unknown = null;
  responseType = "";
  url = "";
  sent: unknown = null;
  onload = () => undefined as void;
  onabort = () => undefined as void;
  onerror = () => undefined as void;
  constructor() {
    Sending.last = this;
  }
  open(_: string, url: string) {
    this.url = url;
  }
  setRequestHeader() {}
  send(body: unknown) {
    this.sent = body;
  }
  abort() {
    this.onabort();
  }
  answer(status: number, response: unknown) {
    this.status = status;
    this.response = response;
    this.onload();
  }
}

function show(may = mayAt("flown"), at = "/") {
  const refreshed: number[] = [];
  const work = {
    sortie: sortie({ may }),
    refresh: () => {
      refreshed.push(1);
      return Promise.resolve();
    },
  } as unknown as SortieWork;
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={[at]}>
        <Recordings work={work} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return refreshed;
}

const file = () => new File(["time_s"], "flight one.csv");

class Still {
  observe() {}
  disconnect() {}
}

beforeEach(() => {
  vi.stubGlobal("XMLHttpRequest", Sending);
  vi.stubGlobal("ResizeObserver", Still);
});

describe("a recorder's file", () => {
  it("is sent, with how far it has come, and what came of it is asked for anew", async () => {
    const asked = serve([]);
    const refreshed = show();
    await userEvent.upload(screen.getByLabelText("Recorder's file"), file());
    await waitFor(() => expect(asked).toContain("POST /api/sorties/7/recordings/look"));
    await screen.findByText("0 % sent");
    const sending = Sending.last;
    expect(sending.url).toBe("/api/sorties/7/recordings?name=flight+one.csv");
    expect(sending.sent).toBeInstanceOf(File);
    act(() => sending.upload.onprogress?.({ lengthComputable: true, loaded: 40, total: 100 }));
    expect(await screen.findByText("40 % sent")).toBeVisible();
    act(() => sending.upload.onload?.());
    expect(await screen.findByText("Being read")).toBeVisible();
    const before = asked.length;
    act(() => sending.answer(201, recorded(1)));
    await waitFor(() => expect(refreshed).toHaveLength(1));
    await waitFor(() => expect(asked.length).toBeGreaterThan(before));
    expect(screen.queryByText("Being read")).toBeNull();
  });
  it("can be dropped, and stopped on its way without a complaint", async () => {
    serve([]);
    const refreshed = show();
    const zone = screen.getByRole("region", { name: "Recordings" });
    fireEvent.drop(zone, { dataTransfer: { files: [file()] } });
    await userEvent.click(await screen.findByRole("button", { name: "Stop" }));
    expect(await screen.findByRole("button", { name: "Read a recorder’s file…" })).toBeVisible();
    expect(screen.queryByRole("alert")).toBeNull();
    expect(refreshed).toHaveLength(0);
  });
  it("that is refused says why", async () => {
    serve([]);
    show();
    await userEvent.upload(screen.getByLabelText("Recorder's file"), file());
    const what = "it is empty";
    await screen.findByText("0 % sent");
    const said = { problems: [{ where: "file", place: "File", what, do: "Export it again." }] };
    act(() => Sending.last.answer(422, said));
    expect(await screen.findByText(/it is empty/)).toBeVisible();
  });
  it("is nothing to be added by who may not, and nothing where there is none", () => {
    serve([]);
    const nobody = { ...mayAt("flown"), note: false };
    show(nobody);
    expect(screen.queryByRole("region", { name: "Recordings" })).toBeNull();
  });
  it("shows how it was read, and its numbers are taken back", async () => {
    const asked = serve([recorded(3)]);
    const refreshed = show();
    expect(await screen.findByText("1 figure found; 2 fields or lines left out")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "How it was read" }));
    const dialog = within(screen.getByRole("dialog"));
    expect(dialog.getByText("One-turn spin, left: sure")).toBeVisible();
    expect(dialog.getByText("line 9, ias_kt: 'x' is not a number. The field is left out.")).toBeVisible();
    expect(dialog.getByText("Order of hands and feet: no rudder")).toBeVisible();
    expect(dialog.getByRole("link", { name: "The file as it came" })).toHaveAttribute(
      "href",
      "/api/sorties/7/recordings/3/file",
    );
    await userEvent.click(dialog.getByRole("checkbox", { name: /g meter reads/ }));
    await waitFor(() => expect(refreshed).toHaveLength(1));
    expect(asked).toContain("POST /api/sorties/7/recordings/3/again");
    expect(dialog.queryByRole("combobox", { name: "Flight of the file" })).toBeNull();
    refreshed.pop();
    await userEvent.click(dialog.getByRole("button", { name: "Take its numbers back" }));
    await waitFor(() => expect(refreshed).toHaveLength(1));
    expect(asked).toContain("POST /api/sorties/7/recordings/3/aside");
  });
});

describe("a recording that may be of another flight", () => {
  const doubts = ["It was recorded on 4 May 2026 at 14:00 UTC; this sortie is on 14 May 2026 at 10:30 UTC."];
  it("says why, and is put where it waits for its own", async () => {
    const asked = serve([recorded(3, { doubts })]);
    const refreshed = show();
    expect(await screen.findByText(doubts[0]!)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "It is of another flight" }));
    await waitFor(() => expect(refreshed).toHaveLength(1));
    expect(asked).toContain("POST /api/sorties/7/recordings/3/elsewhere");
  });
  it("is read again where the day was changed after it", async () => {
    const asked = serve([recorded(3, { outdated: true })]);
    const refreshed = show();
    expect(
      await screen.findByText(/^Plan, day, load or what was tapped in flight changed since/),
    ).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Read it again" }));
    await waitFor(() => expect(refreshed).toHaveLength(1));
    expect(asked).toContain("POST /api/sorties/7/recordings/3/again");
  });
  it("says nothing any more when its numbers do not count", async () => {
    serve([recorded(3, { doubts, set_aside: true })]);
    show();
    expect(await screen.findByText("taken back: its numbers do not count")).toBeVisible();
    expect(screen.queryByText(doubts[0]!)).toBeNull();
    expect(screen.queryByRole("button", { name: "It is of another flight" })).toBeNull();
  });
  it("is taken from where it waited as if it had been chosen here", async () => {
    const asked = serve([]);
    show(mayAt("flown"), "/?inbox=5");
    expect(await screen.findByText("0 % sent")).toBeVisible();
    expect(asked).toContain("GET /api/inbox/5/file");
    expect(Sending.last.url).toBe("/api/sorties/7/recordings?name=tuesday.igc");
    expect((Sending.last.sent as File).name).toBe("tuesday.igc");
  });
});

describe("a table that does not say enough", () => {
  it("is asked about over its first rows, and read with the answer", async () => {
    serve([], TABLE);
    show();
    await userEvent.upload(screen.getByLabelText("Recorder's file"), file());
    const dialog = within(await screen.findByRole("dialog"));
    expect(dialog.getByText("Choose which column is the time.")).toBeVisible();
    expect(dialog.getByRole("button", { name: "Read it so" })).toBeDisabled();
    expect(dialog.getByRole("cell", { name: "1500" })).toBeVisible();
    await userEvent.click(dialog.getByRole("combobox", { name: "Clock is" }));
    await userEvent.click(screen.getByRole("option", { name: "Time" }));
    await userEvent.click(dialog.getByRole("combobox", { name: "Altitude in" }));
    await userEvent.click(screen.getByRole("option", { name: "m" }));
    await userEvent.click(dialog.getByRole("button", { name: "Read it so" }));
    expect(await screen.findByText("0 % sent")).toBeVisible();
    expect(JSON.parse(mapSent()!)).toEqual({
      separator: ";",
      decimal: ".",
      columns: [
        { header: "Altitude", column: "pressure_height_ft", unit: "m", sure: true },
        { header: "Clock", column: "time_s", unit: "s", sure: true },
      ],
    });
  });
  it("holds one thing in one column, and can be left", async () => {
    serve([], TABLE);
    show();
    await userEvent.upload(screen.getByLabelText("Recorder's file"), file());
    const dialog = within(await screen.findByRole("dialog"));
    await userEvent.click(dialog.getByRole("combobox", { name: "Load is" }));
    await userEvent.click(screen.getByRole("option", { name: "Pressure height" }));
    expect(dialog.getByRole("combobox", { name: "Altitude is" })).not.toHaveTextContent("Pressure height");
    expect(dialog.getByRole("combobox", { name: "Load is" })).toHaveTextContent("Pressure height");
    await userEvent.click(dialog.getByRole("button", { name: "Leave it" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });
  it("that was read wrongly is fetched back and read otherwise", async () => {
    const one = recorded(3);
    const asked = serve([{ ...one, flight: { ...one.flight, columns: TABLE.columns } }], TABLE);
    show();
    await userEvent.click(await screen.findByRole("button", { name: "How it was read" }));
    await userEvent.click(screen.getByRole("button", { name: "Read it otherwise…" }));
    expect(await screen.findByText("Which column is what in flight-3.csv?")).toBeVisible();
    expect(asked).toContain("GET /api/sorties/7/recordings/3/file");
  });
});

describe("a recording with more to choose", () => {
  it("says which of its flights is read, and that its figures are an instructor's", async () => {
    const two = recorded(3);
    const mark = { begins_s: 1, ends_s: 9, key: "spin", side: "left" as const, planned: null };
    const asked = serve([{ ...two, flight: { ...two.flight, flights: 2, marks: [mark] } }]);
    show();
    await userEvent.click(await screen.findByRole("button", { name: "How it was read" }));
    const dialog = within(screen.getByRole("dialog"));
    expect(dialog.getByText(/in 2 flights, number 1 is read/)).toBeVisible();
    expect(dialog.getByRole("combobox", { name: "Flight of the file" })).toHaveTextContent("1 of 2");
    expect(dialog.getByText(/stand as an instructor marked them/)).toBeVisible();
    await userEvent.click(dialog.getByRole("button", { name: "As they were found" }));
    await waitFor(() => expect(asked).toContain("POST /api/sorties/7/recordings/3/again"));
  });
  it("is only read by those who may not note", async () => {
    serve([recorded(3)]);
    show(mayAt("signed"));
    await userEvent.click(await screen.findByRole("button", { name: "How it was read" }));
    expect(screen.getByRole("checkbox", { name: /g meter reads/ })).toBeDisabled();
  });
});
