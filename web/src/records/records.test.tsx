import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import type { Done, Records } from "../api/types";
import { ChainSheet } from "./ChainSheet";
import { ErasedSheet } from "./ErasedSheet";
import { WhoDidWhat } from "./WhoDidWhat";

const records: Records = {
  links: 500,
  ends_in: "ab".repeat(32),
  signed: 480,
  corrections: 20,
  checked_at: null,
  checked_by: "",
  erased: [],
};

let asked: string[] = [];
function answering(answer: (url: URL, body: string) => unknown) {
  asked = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url);
    const body = request.method === "GET" ? "" : await request.text();
    asked.push(`${request.method} ${url.pathname}${url.search}${body}`);
    return new Response(JSON.stringify(answer(url, body)), {
      headers: { "Content-Type": "application/json" },
    });
  });
}

function shown(what: React.ReactNode) {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>{what}</MemoryRouter>
    </QueryClientProvider>,
  );
}

const follow = (faults: (after: number) => string[]) =>
  answering((_, body) => {
    const { after } = JSON.parse(body) as { after: number };
    return { to: Math.min(500, after + 200), of: 500, ends_in: "", faults: faults(after) };
  });

it("follows the chain stretch by stretch to its end", async () => {
  follow(() => []);
  shown(<ChainSheet records={records} />);
  expect(screen.getByText("Nobody has followed it from end to end yet.")).toBeInTheDocument();
  await userEvent.click(screen.getByRole("button", { name: "Follow it now" }));
  expect(await screen.findByText(/All 500 links hold/)).toBeInTheDocument();
  expect(asked.filter((a) => a.includes("check"))).toEqual([
    'POST /api/records/check{"after":0}',
    'POST /api/records/check{"after":200}',
    'POST /api/records/check{"after":400}',
  ]);
});

it("names the first broken place and goes on to the others", async () => {
  follow((after) => (after === 200 ? ["link 301, sortie 7: its digest differs", "link 302: the next"] : []));
  shown(<ChainSheet records={records} />);
  await userEvent.click(screen.getByRole("button", { name: "Follow it now" }));
  expect(
    await screen.findByText("First broken place: link 301, sortie 7: its digest differs."),
  ).toBeInTheDocument();
  expect(screen.getByText("link 302: the next.")).toBeInTheDocument();
  expect(screen.queryByText(/links hold/)).toBeNull();
});

const line = (n: number): Done => ({
  at: "2026-05-14T03:00:00Z",
  by: "Ilse",
  what: "saved",
  name: `Sortie ${n}`,
  to: `/sorties/${n}`,
  words: "plan",
});

it("lists who did what, narrowed, page behind page, and as a table with the same question", async () => {
  answering((url) => {
    if (url.pathname !== "/api/audit") return [];
    const after = url.searchParams.get("after");
    return {
      lines: [line(after ? 2 : 1)],
      next: after ? "" : "the-next",
      people: [{ id: 3, name: "Ilse" }],
      sources: [{ key: "correction", label: "Corrections" }],
    };
  });
  shown(<WhoDidWhat />);
  expect(await screen.findByText("14 May 2026 03:00")).toBeInTheDocument();
  await userEvent.click(screen.getByRole("button", { name: "Earlier lines" }));
  expect(await screen.findByText("Sortie 2")).toBeInTheDocument();
  expect(screen.getByText("Sortie 1")).toBeInTheDocument();
  expect(screen.queryByRole("button", { name: "Earlier lines" })).toBeNull();
  await userEvent.click(screen.getByRole("combobox", { name: "By" }));
  await userEvent.click(await screen.findByRole("option", { name: "Ilse" }));
  expect(await screen.findByRole("link", { name: /As a table/ })).toHaveAttribute(
    "href",
    "/api/audit.csv?by=3",
  );
  expect(asked.some((a) => a === "GET /api/audit?by=3")).toBe(true);
  // Another question begins at its own top.
  expect(await screen.findByText("Sortie 1")).toBeInTheDocument();
  expect(screen.queryByText("Sortie 2")).toBeNull();
});

it("says what is kept of somebody who was erased, and until when", () => {
  const one = { person: 9, at: "2026-05-14T03:00:00Z", by: "Morag", reason: "asked for it" };
  shown(
    <ErasedSheet
      erased={[
        { ...one, kept_until: "2031-05-14", kept: 4 },
        { ...one, person: 10, kept_until: null, kept: 0 },
      ]}
    />,
  );
  expect(screen.getByText("4 signed records are kept until 14 May 2031")).toBeInTheDocument();
  expect(screen.getByText("nothing is kept")).toBeInTheDocument();
});
