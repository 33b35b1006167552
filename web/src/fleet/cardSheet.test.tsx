import { render, screen } from "@testing-library/react";
import { answering } from "../answering";
import type { Aircraft } from "../api/types";
import { Questions } from "../Questions";
import { BlankCosts } from "./CardSheet";

const turn = {
  path: "spin.turn_s",
  label: "Seconds of a turn in the spin",
  shown: "2.5 s",
  between: "2.2 to 2.9 s",
  how: "from the stall speed",
} as const;
const factor = { ...turn, path: "spin.left_factor", label: "Spin to the left", shown: "1.05 ×" } as const;
const aircraft = { id: 7, blanks: [factor, turn] } as unknown as Aircraft;

it("says what is blank and estimated, then what each adds, the dearest first", async () => {
  answering({
    "/api/aircraft/7/blanks": {
      costs: [
        { number: turn, adds: "140 ft", figure: "One-turn spin, left" },
        { number: factor, adds: "", figure: "" },
      ],
    },
  });
  render(<BlankCosts aircraft={aircraft} />, { wrapper: Questions });
  const rows = () => screen.getAllByRole("row").map((row) => row.textContent);
  expect(rows()[1]).toMatch(/^Spin to the left.*1\.05 ×.*…$/);
  expect(screen.getByText(/is being computed/)).toBeInTheDocument();
  expect(await screen.findByText("140 ft")).toBeInTheDocument();
  expect(rows().slice(1)).toEqual([
    "Seconds of a turn in the spinfrom the stall speed2.5 s2.2 to 2.9 s140 ftOne-turn spin, left",
    "Spin to the leftfrom the stall speed1.05 ×2.2 to 2.9 snothing",
  ]);
});

it("says where what they add could not be computed", async () => {
  vi.stubGlobal("fetch", () => Promise.resolve(new Response("{}", { status: 500 })));
  render(<BlankCosts aircraft={aircraft} />, { wrapper: Questions });
  expect(await screen.findByText(/could not be computed/)).toBeInTheDocument();
  expect(screen.getAllByText("…")).toHaveLength(2);
});
