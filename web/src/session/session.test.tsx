import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answering } from "../answering";
import { NO_LETTERS } from "../fixtures";
import { LogIn } from "./LogIn";
import { linkAt, Welcome } from "./Welcome";

const nobody = { person: null, zone: "UTC", now: "2026-05-14T10:00:00Z", ...NO_LETTERS };

function shown(what: React.ReactNode) {
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

async function typed(label: RegExp, words: string) {
  await userEvent.type(screen.getByLabelText(label), words);
}

it("asks for the code only after name and password were right, and sends all three", async () => {
  const { sent } = answering({
    "/api/session": nobody,
    "/api/session/login": { ...nobody, asks_code: true },
  });
  shown(<LogIn />);
  await typed(/Name to log in/, "bo");
  await typed(/Password/, "a-long-enough-one");
  expect(screen.queryByLabelText(/Code/)).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Log in" }));
  await userEvent.type(await screen.findByLabelText(/Code/), "123456");
  await userEvent.click(screen.getByRole("button", { name: "Log in" }));
  expect(sent.map((one) => one.body)).toEqual([
    { username: "bo", password: "a-long-enough-one", code: "" },
    { username: "bo", password: "a-long-enough-one", code: "123456" },
  ]);
});

it("offers a letter where letters are sent, else says whom to ask", async () => {
  answering({
    "/api/session": { ...nobody, mail: true },
    "/api/session/forgot": { words: "It is on its way." },
  });
  shown(<LogIn />);
  await userEvent.click(screen.getByRole("button", { name: "I have forgotten my password" }));
  expect(await screen.findByRole("button", { name: /Send a link/ })).toBeDisabled();
  await typed(/Name to log in/, "bo");
  await userEvent.click(screen.getByRole("button", { name: /Send a link/ }));
  expect(await screen.findByText("It is on its way.")).toBeInTheDocument();
});

it("sends nobody a letter where none are sent", async () => {
  answering({ "/api/session": nobody });
  shown(<LogIn />);
  await userEvent.click(screen.getByRole("button", { name: "I have forgotten my password" }));
  expect(await screen.findByText(/The chief instructor makes you a link/)).toBeInTheDocument();
});

it("takes a password that was typed twice the same", async () => {
  const way = "/api/session/welcome/MQ/a-token";
  const { sent } = answering({ [way]: { name: "Eve", username: "eve", rules: ["At least ten letters."] } });
  const onIn = vi.fn();
  shown(<Welcome link={{ name: "MQ", token: "a-token" }} onIn={onIn} />);
  expect(await screen.findByText("Welcome, Eve. Your name to log in is eve.")).toBeInTheDocument();
  await typed(/A password of your own/, "grey-gulls-over");
  await typed(/The same again/, "grey-gulls-over-x");
  expect(screen.getByText("The two differ.")).toBeInTheDocument();
  expect(screen.getByRole("button", { name: "Set it and come in" })).toBeDisabled();
  await userEvent.type(screen.getByLabelText(/The same again/), "{Backspace}{Backspace}");
  await userEvent.click(screen.getByRole("button", { name: "Set it and come in" }));
  expect(sent).toEqual([{ path: way, body: { password: "grey-gulls-over" } }]);
});

it("knows a link in by its address", () => {
  expect(linkAt("/welcome/MQ/a-b")).toEqual({ name: "MQ", token: "a-b" });
  for (const path of ["/", "/welcome", "/welcome/MQ", "/welcome/MQ/a/b", "/x/welcome/MQ/a"])
    expect(linkAt(path)).toBeNull();
});
