import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answering } from "../answering";
import type { Account } from "../api/types";
import { Calendar } from "./Calendar";
import { NewPassword } from "./NewPassword";
import { SecondFactor } from "./SecondFactor";
import { Sessions } from "./Sessions";

const one = { agent: "Firefox", address: "10.0.0.1", began: null, seen: "2026-05-13T10:00:00Z" };
const account: Account = {
  username: "bo",
  name: "Bo",
  email: "",
  second_factor: false,
  codes_left: 0,
  calendar: "",
  rules: ["At least ten letters."],
  sessions: [
    { ...one, id: "a", this: true },
    { ...one, id: "b", this: false },
    { ...one, id: "c", this: false },
  ],
};

function shown(what: React.ReactNode) {
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

it("sets a second factor up: the square, a first code, and codes that are shown once", async () => {
  const { sent } = answering(
    {
      "/api/account/second-factor": { secret: "ABCD EFGH", picture: "data:image/svg+xml,x" },
      "/api/account/second-factor/on": { codes: ["k2m4n6p8", "q3r5s7t9"] },
    },
    account,
  );
  shown(<SecondFactor account={account} />);
  expect(screen.getByRole("button", { name: "Set it up" })).toBeDisabled();
  await userEvent.type(screen.getByLabelText("Your password"), "mine");
  await userEvent.click(screen.getByRole("button", { name: "Set it up" }));
  expect(await screen.findByText("ABCD EFGH")).toBeInTheDocument();
  await userEvent.type(screen.getByLabelText(/The code that the app shows/), "123456");
  await userEvent.click(screen.getByRole("button", { name: "Turn it on" }));
  expect(await screen.findByText("k2m4n6p8")).toBeInTheDocument();
  expect(sent.map((s) => s.body)).toEqual([{ password: "mine" }, { code: "123456" }]);
});

it("is taken off with the password", async () => {
  const { sent } = answering({}, account);
  shown(<SecondFactor account={{ ...account, second_factor: true, codes_left: 7 }} />);
  expect(screen.getByText(/7 recovery codes left/)).toBeInTheDocument();
  await userEvent.type(screen.getByLabelText("Your password"), "mine");
  await userEvent.click(screen.getByRole("button", { name: "Take it off" }));
  expect(sent).toEqual([{ path: "/api/account/second-factor/off", body: { password: "mine" } }]);
});

it("lists where one is logged in and ends one, or all but this", async () => {
  const { sent } = answering({}, account);
  shown(<Sessions account={account} />);
  expect(screen.getAllByRole("button", { name: "End it" })).toHaveLength(2);
  await userEvent.click(screen.getAllByRole("button", { name: "End it" })[0]!);
  await userEvent.click(screen.getByRole("button", { name: "End all but this one" }));
  expect(sent.map((s) => s.body)).toEqual([{ id: "b" }, { id: null }]);
});

it("changes the password only where the new one was typed twice the same", async () => {
  const { sent } = answering({}, account);
  shown(<NewPassword account={account} />);
  await userEvent.type(screen.getByLabelText(/The password of now/), "old");
  await userEvent.type(screen.getByLabelText(/The new one \*/), "grey-gulls");
  await userEvent.type(screen.getByLabelText(/The new one again/), "grey-gull");
  expect(screen.getByRole("button", { name: "Change the password" })).toBeDisabled();
  await userEvent.type(screen.getByLabelText(/The new one again/), "s");
  await userEvent.click(screen.getByRole("button", { name: "Change the password" }));
  expect(await screen.findByText(/It is changed/)).toBeInTheDocument();
  expect(sent).toEqual([{ path: "/api/account/password", body: { old: "old", new: "grey-gulls" } }]);
  expect(screen.getByLabelText(/The password of now/)).toHaveValue("");
});

it("makes an address for a calendar, another one, and takes it away", async () => {
  const { asked } = answering({}, account);
  shown(<Calendar account={{ ...account, calendar: "http://school/api/calendar/k.ics" }} />);
  expect(screen.getByLabelText("Address")).toHaveValue("http://school/api/calendar/k.ics");
  await userEvent.click(screen.getByRole("button", { name: "Make another" }));
  await userEvent.click(screen.getByRole("button", { name: "Take it away" }));
  expect(asked).toEqual(["POST /api/account/calendar", "DELETE /api/account/calendar"]);
});
