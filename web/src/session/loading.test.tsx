import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import { pass, stopTime } from "../passing";
import { LoadingBar } from "./LoadingBar";

describe("a demo school that is being loaded", () => {
  it("says how far it is, and has every page ask again when all of it is there", async () => {
    stopTime();
    let loading: { done: number; of: number } | null = { done: 3, of: 12 };
    vi.stubGlobal("fetch", () => Promise.resolve(Response.json({ person: null, zone: "UTC", loading })));
    const queries = new QueryClient();
    const anew = vi.spyOn(queries, "invalidateQueries");
    render(
      <QueryClientProvider client={queries}>
        <LoadingBar />
      </QueryClientProvider>,
    );
    await pass(100);
    expect(screen.getByText(/The demo school is being loaded: 3 of 12 parts/)).toBeVisible();
    expect(screen.getByRole("progressbar")).toHaveAttribute("aria-valuetext", "3 of 12");
    loading = { done: 4, of: 12 };
    await pass(2000);
    expect(screen.getByText(/4 of 12 parts/)).toBeVisible();
    expect(anew).not.toHaveBeenCalled();
    loading = null;
    await pass(2000);
    expect(screen.queryByRole("progressbar")).toBeNull();
    expect(anew).toHaveBeenCalledTimes(1);
  });
});
