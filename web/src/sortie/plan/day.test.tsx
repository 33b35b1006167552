import { screen, render as drawn } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { sortie } from "../../fixtures";
import { Questions, typedInto } from "../../Questions";
import { DayNumbers, inShort, type Day, type SetDay } from "./DayNumbers";
import { Winds } from "./Winds";

const calm: Day = { ...sortie().plan.day, winds: [], wind_from_deg: 240, wind_kt: 14 };
const render = (part: React.ReactNode) => drawn(part, { wrapper: Questions });
const now = () => JSON.parse(screen.getByTestId("day").textContent ?? "{}") as Day;
const named: string[] = [];

function Typed({ first, of: Part }: { first: Day; of: typeof Winds }) {
  const [day, setDay] = useState(first);
  const set: SetDay = (edit, name) => {
    named.push(name);
    setDay((d) => ({ ...d, ...edit }));
  };
  return (
    <>
      <output data-testid="day">{JSON.stringify(day)}</output>
      <Part day={day} editable set={set} />
    </>
  );
}
beforeEach(() => {
  named.length = 0;
});

describe("winds at height", () => {
  it("begin with the surface wind, each 2,000 ft above the one before", async () => {
    render(<Typed first={calm} of={Winds} />);
    expect(screen.getByText("the surface wind is used")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Add a height" }));
    await userEvent.click(screen.getByRole("button", { name: "Add a height" }));
    expect(now().winds).toEqual([
      { height_ft: 2000, from_deg: 240, kt: 14 },
      { height_ft: 4000, from_deg: 240, kt: 14 },
    ]);
    expect(screen.getByText("typed in")).toBeVisible();
  });
  it("are edited one number at a time and removed one by one", async () => {
    const winds = [
      { height_ft: 2000, from_deg: 240, kt: 14 },
      { height_ft: 4000, from_deg: 260, kt: 25 },
    ];
    render(<Typed first={{ ...calm, winds }} of={Winds} />);
    typedInto(screen.getByLabelText("Wind 2, kt"), "30");
    expect(now().winds).toEqual([winds[0], { ...winds[1], kt: 30 }]);
    typedInto(screen.getByLabelText("Wind 1, from degrees"), "");
    expect(now().winds?.[0]).toEqual(winds[0]);
    await userEvent.click(screen.getByRole("button", { name: "Remove wind 1" }));
    expect(now().winds).toEqual([{ ...winds[1], kt: 30 }]);
    expect(new Set(named)).toEqual(new Set(["winds"]));
  });
  it("are no more than six", () => {
    const winds = [1, 2, 3, 4, 5, 6].map((n) => ({ height_ft: 1000 * n, from_deg: 0, kt: 5 }));
    render(<Typed first={{ ...calm, winds }} of={Winds} />);
    expect(screen.queryByRole("button", { name: "Add a height" })).toBeNull();
  });
  it("are only shown to who may not change them", () => {
    const winds = [{ height_ft: 2000, from_deg: 240, kt: 14 }];
    render(<Winds day={{ ...calm, winds }} editable={false} set={() => undefined} />);
    expect(screen.queryByRole("button")).toBeNull();
    expect(screen.getByLabelText("Wind 1, kt")).toBeDisabled();
  });
});

describe("numbers of the day", () => {
  it("say where each came from, in short", () => {
    const sources = { qnh_hpa: "METAR XSKA 25 1420Z, stand-in weather service" };
    render(<Typed first={{ ...calm, sources }} of={DayNumbers} />);
    expect(screen.getByText("METAR 1420Z")).toBeVisible();
    expect(screen.getAllByText("typed in").length).toBeGreaterThan(3);
    expect(inShort("wind at height, METAR")).toBe("METAR");
  });
  it.each<[string, string, Partial<Day>, string]>([
    ["QNH, hPa", "1009", { qnh_hpa: 1009 }, "qnh_hpa"],
    ["Temperature, °C", "-4", { temperature_c: -4 }, "temperature_c"],
    ["Wind, kt", "20", { wind_kt: 20 }, "wind_from_deg"],
    ["Gusts, kt", "31", { gust_kt: 31 }, "wind_from_deg"],
    ["Cloud base, ft QNH", "5200", { cloud_base_ft: 5200, no_cloud: false }, "cloud_base_ft"],
  ])("%s is set, and what it came from is forgotten", (label, typed, set, name) => {
    render(<Typed first={calm} of={DayNumbers} />);
    typedInto(screen.getByLabelText(label), typed);
    expect(now()).toEqual({ ...calm, ...set });
    expect(named).toEqual([name]);
  });
  it("may each be not given, which is not a number, and no cloud is said", async () => {
    render(<Typed first={{ ...calm, gust_kt: 25, cloud_base_ft: 5000 }} of={DayNumbers} />);
    typedInto(screen.getByLabelText("Gusts, kt"), "");
    typedInto(screen.getByLabelText("Cloud base, ft QNH"), "");
    typedInto(screen.getByLabelText("QNH, hPa"), "");
    expect(now()).toEqual({ ...calm, gust_kt: null, cloud_base_ft: null, qnh_hpa: null, no_cloud: false });
    expect(screen.getByLabelText("QNH, hPa")).toHaveValue("");
    expect(screen.getAllByText("not given")).toHaveLength(2);
    await userEvent.click(screen.getByLabelText("No cloud"));
    expect(now().no_cloud).toBe(true);
    expect(screen.getAllByText("not given")).toHaveLength(1);
  });
});
