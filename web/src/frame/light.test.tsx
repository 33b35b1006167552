import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useLight } from "./light";
import { LightKey } from "./LightKey";

function Page({ flying }: { flying: boolean }) {
  useLight(flying);
  return <LightKey />;
}
const shown = () => document.documentElement.dataset.light;

describe("the light that the screen is read in", () => {
  it("is the system's until somebody chooses, and stays as it was chosen", async () => {
    render(<Page flying={false} />);
    expect(shown()).toBeUndefined();
    await userEvent.click(screen.getByRole("button", { name: "Light" }));
    await userEvent.click(screen.getByRole("menuitem", { name: "Dusk and night" }));
    expect(shown()).toBe("dusk");
    expect(localStorage.getItem("keelturn.light")).toBe("dusk");
  });
  it("is sunlight in Fly only", () => {
    localStorage.setItem("keelturn.light", "sun");
    const { rerender } = render(<Page flying />);
    expect(shown()).toBe("sun");
    rerender(<Page flying={false} />);
    expect(shown()).toBe("day");
  });
});
