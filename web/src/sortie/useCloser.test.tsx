import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it, vi } from "vitest";
import { closerLook, sortie } from "../fixtures";
import { draftOf } from "./draft";
import { useCloser } from "./useCloser";

const asked: Request[] = [];

function closer(answer: (request: Request) => Promise<Response>) {
  asked.length = 0;
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(request);
    return answer(request);
  });
  const client = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return renderHook(({ figure }: { figure: string }) => useCloser(7, draftOf(sortie()), figure), {
    wrapper,
    initialProps: { figure: "f1" },
  });
}
const json = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

it("asks again when the server has too many questions, and says nothing of it", async () => {
  const crowded = { problems: [{ where: "server", what: "2 questions wait", do: "Ask again." }] };
  const hook = closer(() =>
    Promise.resolve(asked.length === 1 ? json(429, crowded) : json(200, closerLook("f1"))),
  );
  await waitFor(() => expect(hook.result.current.look?.id).toBe("f1"));
  expect(hook.result.current.failed).toBeNull();
  expect(asked).toHaveLength(2);
});

it("does not ask again for what is refused", async () => {
  const refused = { problems: [{ where: "figure", what: "it cannot be", do: "Choose another." }] };
  const hook = closer(() => Promise.resolve(json(422, refused)));
  await waitFor(() => expect(hook.result.current.failed).not.toBeNull());
  expect(asked).toHaveLength(1);
});

it("gives up the question of a figure that was left", async () => {
  const hook = closer(() => new Promise(() => undefined));
  await waitFor(() => expect(asked).toHaveLength(1));
  hook.rerender({ figure: "f2" });
  await waitFor(() => expect(asked).toHaveLength(2));
  expect(asked.map((request) => request.signal.aborted)).toEqual([true, false]);
});
