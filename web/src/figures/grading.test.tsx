import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import type { GradesAsked, Grading } from "../api/types";
import { GradesTable, GradingFields, gradingWords } from "./Grading";

const asked: GradesAsked = {
  words: { Shown: "seen", Guided: "helped", Sound: "in order", "Solo-ready": "alone" },
  measures: [
    {
      measure: "beyond_ft",
      label: "Height beyond the brief",
      unit: "ft",
      most: { guided: 400, sound: 200, solo_ready: 100 },
    },
    { measure: "faults", label: "Faults noted", unit: "", most: { guided: 3, sound: 1, solo_ready: 0 } },
  ],
};
const school: Grading = {
  most: { beyond_ft: { guided: 300, sound: 150, solo_ready: 50 } },
  words: { Sound: "clean" },
};

it("shows the figure's own numbers before the school's, and those before the program's", () => {
  render(<GradesTable asked={asked} gradings={[{}, school]} />);
  const cells = within(screen.getByRole("row", { name: /Height/ })).getAllByRole("cell");
  expect(cells.map((cell) => cell.textContent)).toEqual(["300 ft", "150 ft", "50 ft"]);
  expect(within(screen.getByRole("row", { name: /Faults/ })).getAllByRole("cell")[2]).toHaveTextContent("0");
  expect(screen.getByText("clean")).toBeVisible();
  expect(screen.getByText("helped")).toBeVisible();
});

function Editing({ under = [] as Grading[], seen }: { under?: Grading[]; seen: (value: Grading) => void }) {
  const [value, setValue] = useState<Grading>({});
  return (
    <GradingFields
      asked={asked}
      value={value}
      under={under}
      onChange={(next) => {
        setValue(next);
        seen(next);
      }}
    />
  );
}

it("keeps only what is not as it was underneath", async () => {
  const seen: Grading[] = [];
  render(<Editing under={[school]} seen={(value) => seen.push(value)} />);
  const field = screen.getByRole("textbox", { name: "Height beyond the brief, Sound" });
  expect(field).toHaveValue("150");
  await userEvent.clear(field);
  await userEvent.type(field, "120{Enter}");
  expect(seen.at(-1)).toEqual({ most: { beyond_ft: { guided: 300, sound: 120, solo_ready: 50 } } });
  await userEvent.clear(field);
  await userEvent.type(field, "150{Enter}");
  expect(seen.at(-1)).toEqual({ most: {} });
  await userEvent.type(screen.getByRole("textbox", { name: "Shown, in words" }), "s");
  expect(seen.at(-1)?.words).toEqual({ Shown: "s" });
  await userEvent.clear(screen.getByRole("textbox", { name: "Shown, in words" }));
  expect(seen.at(-1)?.words).toEqual({});
});

it("says in the history what a grading asks of its own", () => {
  expect(gradingWords(school, asked)).toEqual([
    "height beyond the brief at most 300/150/50 ft",
    "Sound: “clean”",
  ]);
  expect(gradingWords(undefined, asked)).toEqual([]);
});
