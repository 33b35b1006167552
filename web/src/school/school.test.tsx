import { render, screen, within } from "@testing-library/react";
import type { SchoolSeen } from "../api/types";
import { FigureCosts } from "./FigureCosts";

const cost: SchoolSeen["costs"][number] = {
  figure: "spin",
  name: "Spin",
  attempts: 40,
  beyond_ft: 60,
  least_ft: 30,
  most_ft: 90,
  all_ft: 2400,
  within: 36,
  sure: true,
  words: "+60 ft against the brief; 36 of 40 within 19 in 20, 38 expected.",
};

describe("what the briefs got wrong", () => {
  it("has each figure with how far, how sure, and what it cost in all", () => {
    render(
      <FigureCosts costs={[cost, { ...cost, figure: "loop", name: "Loop", beyond_ft: -20, all_ft: -80 }]} />,
    );
    const sheet = screen.getByRole("region", { name: "Against the brief" });
    expect(within(sheet).getByText("40 flown, +2,400 ft in all")).toBeInTheDocument();
    expect(within(sheet).getByText("40 flown, −80 ft in all")).toBeInTheDocument();
    expect(within(sheet).getByText("+60 ft in the mean, between +30 ft and +90 ft")).toBeInTheDocument();
    expect(within(sheet).getAllByText(cost.words)).toHaveLength(2);
  });
  it("puts a figure on one side of its brief, as far as it lies", () => {
    vi.mocked(getComputedStyle).mockRestore();
    const { container } = render(<FigureCosts costs={[cost]} />);
    const lefts = [...container.querySelectorAll("div")].map((e) => parseFloat(getComputedStyle(e).left));
    // The widest of the row, 90 ft, lies at 98 of 100; the mean of 60 at 50 + 32, less half its mark.
    expect(lefts.some((left) => Math.abs(left - 81.4) < 0.1)).toBe(true);
    expect(lefts.some((left) => Math.abs(left - 66) < 0.1)).toBe(true);
  });
  it("names those of which there are too few to tell, without a picture", () => {
    render(<FigureCosts costs={[{ ...cost, least_ft: null, most_ft: null, attempts: 3 }]} />);
    expect(screen.getByText(/too few students, to tell: Spin 3\./)).toBeInTheDocument();
    expect(screen.queryByText(/in the mean/)).toBeNull();
  });
});
