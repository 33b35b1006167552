import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Safe } from "../api/types";
import { SafeKeeping } from "./SafeKeeping";

const line = {
  at: "2026-05-14T03:00:00Z",
  what: "backup",
  archive: "a.tar.gz",
  good: true,
  words: "12.0 MB, as it was",
};
const none: Safe = { last: null, tried: null, warning: "There is no good backup.", lines: [], every_h: 24 };
const made: Safe = { ...none, last: line, warning: "", lines: [line] };
const tried: Safe = {
  ...made,
  tried: { ...line, what: "restore", words: "12 students, each as it was signed" },
};

let asked: string[] = [];
function answering(answers: Record<string, Safe>) {
  asked = [];
  vi.stubGlobal("fetch", (request: Request) => {
    const door = `${request.method} ${new URL(request.url).pathname}`;
    asked.push(door);
    return Promise.resolve(
      new Response(JSON.stringify(answers[door]), { headers: { "Content-Type": "application/json" } }),
    );
  });
}

function shown() {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SafeKeeping />
    </QueryClientProvider>,
  );
}

it("warns where there is no backup, makes one, and then puts it back in a corner", async () => {
  answering({
    "GET /api/safe-keeping": none,
    "POST /api/safe-keeping/backup": made,
    "POST /api/safe-keeping/trial": tried,
  });
  shown();
  expect(await screen.findByText("There is no good backup.")).toBeInTheDocument();
  expect(screen.getByRole("button", { name: "Try a restore" })).toBeDisabled();
  await userEvent.click(screen.getByRole("button", { name: "Back up now" }));
  expect(await screen.findByText("a.tar.gz: 12.0 MB, as it was")).toBeInTheDocument();
  expect(screen.queryByText("There is no good backup.")).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Try a restore" }));
  expect(await screen.findByText("12 students, each as it was signed")).toBeInTheDocument();
  expect(asked.slice(-2)).toEqual(["POST /api/safe-keeping/backup", "POST /api/safe-keeping/trial"]);
});

it("lists what became of the last ones, failed ones as failed", async () => {
  const failed = { ...line, at: "2026-05-13T03:00:00Z", good: false, words: "the disk is full" };
  answering({ "GET /api/safe-keeping": { ...made, lines: [line, failed] } });
  shown();
  expect(await screen.findByText("The last 2")).toBeInTheDocument();
  expect(screen.getByText(/13 May 03:00 backup: failed, the disk is full/)).toBeInTheDocument();
});

it("says where none is made by itself", async () => {
  answering({ "GET /api/safe-keeping": { ...made, every_h: 0 } });
  shown();
  expect(await screen.findByText(/started without a schedule/)).toBeInTheDocument();
});
