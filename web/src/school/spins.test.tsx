import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answering } from "../answering";
import type { SpinBeside } from "../api/types";
import { Questions } from "../Questions";
import { SpinsBesideTheirCards } from "./SpinsBeside";

const number: SpinBeside["numbers"][number] = {
  key: "further_turn_ft",
  label: "Each further turn",
  unit: "ft",
  card: 215,
  card_from: "manual 4.14",
  flown: 251.4,
  least: 233.9,
  most: 269.3,
  becomes: 250,
  words: "More than the card says.",
};
const stays = {
  ...number,
  key: "left_factor",
  label: "Left against right",
  unit: "×",
  becomes: null,
} as const;
const found = {
  spins: 16,
  flights: 4,
  first: "2026-02-02",
  last: "2026-04-13",
  words: "It spins otherwise than its card says.",
  numbers: [number, { ...stays, card: 1.06, flown: 1.04, least: 0.98, most: 1.1 }],
  losses: [{ turns: 1, before_ft: 670, after_ft: 720 }],
  beyond_before_ft: 180,
  beyond_after_ft: -20,
  card: { name: "the new one" },
};
const fleet = [
  { id: 7, registration: "QX-ONE", version: 3, parachutes_packed_on: "2026-04-01", card: { spin: {} } },
  { id: 8, registration: "QX-TWO", version: 1, parachutes_packed_on: null, card: { spin: null } },
];

async function opened(answer: unknown) {
  const served = answering({
    "/api/aircraft": fleet,
    "/api/aircraft/7/spins": { version: 5, beside: answer },
  });
  render(<SpinsBesideTheirCards />, { wrapper: Questions });
  await userEvent.click(await screen.findByRole("button", { name: "QX-ONE" }));
  return served;
}

it("shows what would change of the card, and puts it there when told to", async () => {
  const { sent } = await opened(found);
  expect(await screen.findByText("becomes 250 ft")).toBeInTheDocument();
  expect(screen.getByText("flown 251 ft, between 234 ft and 269 ft")).toBeInTheDocument();
  expect(screen.getByText("stays")).toBeInTheDocument();
  expect(screen.getByText("now 670 ft (+50 ft)")).toBeInTheDocument();
  expect(
    screen.getByText(/\+180 ft against that by the card as it is, and −20 ft by the new/),
  ).toBeInTheDocument();
  expect(screen.queryByRole("button", { name: "QX-TWO" })).toBeNull();
  expect(sent).toEqual([]);
  await userEvent.click(screen.getByRole("button", { name: "Put it into the card" }));
  // The card that was looked at, not the one of the list.
  const body = { version: 5, registration: "QX-ONE", card: found.card, parachutes_packed_on: "2026-04-01" };
  expect(sent).toEqual([{ path: "/api/aircraft/7", body }]);
});

it("offers nothing where there is nothing to change", async () => {
  await opened({ ...found, numbers: [], losses: [], card: null, words: "Too few to tell.", first: null });
  expect(await screen.findByText("Too few to tell.")).toBeInTheDocument();
  expect(screen.queryByRole("button", { name: "Put it into the card" })).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Close" }));
});
