import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { LookedAt, Recorded } from "../../api/types";
import { FigureTrace } from "../../charts/FigureTrace";
import { mayAt, sortie } from "../../fixtures";
import type { SortieWork } from "../useSortie";
import { foundIn } from "./AttemptTrace";
import { inShort, Recordings } from "./Recordings";

type Found = Recorded["flight"]["figures"][number];

const measured: Found["measured"] = {
  begins_s: 400,
  ends_s: 412,
  lowest_s: 410,
  entry_ias: 55,
  start_ft: 5003,
  recover_ft: null,
  lowest_ft: 4317,
  level_ft: 4330,
  highest_ft: 5003,
  phases: [
    { name: "Until the rotation slows", lost_ft: 400, seconds: 6 },
    { name: "To the pull", lost_ft: 286, seconds: 4 },
  ],
  turns: 1.1,
  turn_s: 2.1,
  most_g: 2.6,
  least_g: 0.4,
  rolling_g: null,
  fastest_ias: 112,
  heading_off_deg: 3,
  bank_at_pull_deg: 2,
  lift_share: 0.7,
  inputs: [],
};

function found(attempt: string, over: Partial<Found> = {}): Found {
  return {
    attempt,
    key: "spin",
    title: "One-turn spin, left",
    planned: attempt,
    place: "planned",
    sure: 0.99,
    could_be: [],
    measured,
    became: null,
    ...over,
  };
}

function recorded(id: number, over: Partial<Recorded> = {}, figures = [found("f1")]): Recorded {
  return {
    id,
    name: `flight-${id}.csv`,
    digest: "ab".repeat(32),
    size: 1000,
    set_aside: false,
    by: "Bo",
    at: "2026-05-14T11:00:00Z",
    flight: {
      version: 1,
      form: "table",
      flights: 1,
      rows: 7000,
      began: null,
      aircraft: "",
      columns: null,
      problems: [
        {
          kind: "no number",
          line: 9,
          header: "ias_kt",
          what: "'x' is not a number",
          do: "The field is left out.",
        },
      ],
      counts: { "no number": 2 },
      cleaned: [{ key: "g bias", words: "g meter reads +0.04 in level flight: taken off", done: true }],
      missing: ["Order of hands and feet: no rudder"],
      figures,
    },
    ...over,
  };
}

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

function show(may = mayAt("flown")) {
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
      <Recordings work={work} />
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
afterEach(() => vi.unstubAllGlobals());

describe("a recorder's file", () => {
  it("is sent, with how far it has come, and what came of it is asked for anew", async () => {
    const asked = serve([]);
    const refreshed = show();
    await userEvent.upload(screen.getByLabelText("Recorder's file"), file());
    await vi.waitFor(() => expect(asked).toContain("POST /api/sorties/7/recordings/look"));
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
    await vi.waitFor(() => expect(refreshed).toHaveLength(1));
    await vi.waitFor(() => expect(asked.length).toBeGreaterThan(before));
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
    await userEvent.click(dialog.getByRole("button", { name: "Take its numbers back" }));
    await vi.waitFor(() => expect(refreshed).toHaveLength(1));
    expect(asked).toContain("POST /api/sorties/7/recordings/3/aside");
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
    await vi.waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
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

describe("what a recording says in short", () => {
  it("counts figures, those not planned, and what was left out", () => {
    const figures = [found("f1"), found("x", { place: "unplanned", planned: null })];
    expect(inShort(recorded(1, {}, figures))).toBe(
      "2 figures found, 1 not planned; 2 fields or lines left out",
    );
    const clean = recorded(1, {}, []);
    expect(inShort({ ...clean, flight: { ...clean.flight, counts: {} } })).toBe("0 figures found");
  });
  it("is of the last recording that counts and has the attempt", () => {
    const first = recorded(1, {}, [found("f1", { sure: 0.1 })]);
    const second = recorded(2, {}, [found("f1", { sure: 0.2 })]);
    const aside = recorded(3, { set_aside: true }, [found("f1", { sure: 0.3 })]);
    expect(foundIn([first, second, aside], "f1")?.sure).toBe(0.2);
    expect(foundIn([first], "f2")).toBeNull();
  });
});

describe("the trace of a figure", () => {
  it("says from where to where in words, with its phases", () => {
    const seconds = [-3, 0, 6, 10, 12];
    const height_ft = [5000, 5003, 4603, 4317, 4330];
    render(
      <FigureTrace
        trace={{ seconds, height_ft, ias: [], g: [] }}
        found={found("f1")}
        profile={[
          [0, 0],
          [9, -650],
        ]}
        floor_ft={3000}
        title="One-turn spin, left"
      />,
    );
    expect(
      screen.getByRole("img", { name: "One-turn spin, left as recorded: from 5,000 ft to 4,310 ft" }),
    ).toBeVisible();
    expect(
      screen.getByText("Until the rotation slows: 400 ft in 6.0 s; To the pull: 290 ft in 4.0 s"),
    ).toBeInTheDocument();
  });
});
