import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answering } from "../answering";
import type { PersonLine } from "../api/types";
import { EraseDialog } from "./EraseDialog";
import { LeaveDialog } from "./LeaveDialog";
import { PersonDialog } from "./PersonDialog";
import { rolesOf } from "./roles";

const person: PersonLine = {
  id: 3,
  username: "ilse",
  name: "Ilse",
  email: "",
  role: "instructor",
  student_id: null,
  weight_lb: 142,
  state: "in",
  since: null,
  left_why: "",
  last_login: null,
  second_factor: false,
  ahead: 2,
};

function shown(what: React.ReactNode) {
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

it("says what somebody does, each role by its name", () => {
  expect(rolesOf({ role: "chief", student_id: null })).toBe("chief instructor");
  expect(rolesOf({ role: "instructor", student_id: 4 })).toBe("instructor, student");
  expect(rolesOf({ role: "student", student_id: 4 })).toBe("student");
});

it("lets nobody leave whose sorties nobody takes over", async () => {
  const { sent } = answering({});
  const bryn = { ...person, id: 4, name: "Bryn", ahead: 0 };
  const petra = { ...person, id: 5, name: "Petra", role: "student" as const };
  shown(<LeaveDialog person={person} people={[person, bryn, petra]} onClose={() => undefined} />);
  await userEvent.type(screen.getByLabelText(/Why/), "moving away");
  expect(screen.getByRole("button", { name: "Ilse leaves" })).toBeDisabled();
  await userEvent.click(screen.getByRole("combobox", { name: /Who takes over/ }));
  expect(screen.getAllByRole("option").map((o) => o.textContent)).toEqual(["Bryn"]);
  await userEvent.click(screen.getByRole("option", { name: "Bryn" }));
  await userEvent.click(screen.getByRole("button", { name: "Ilse leaves" }));
  expect(sent).toEqual([{ path: "/api/people/3/leave", body: { reason: "moving away", instead: 4 } }]);
});

it("erases only with a reason, a password, and a day until which signed records are kept or the word that they go", async () => {
  const { sent } = answering({
    "/api/people/3/erasing": { name: "Ilse", open_sorties: 1, signed: 3, recordings: 2, others: 7 },
  });
  shown(<EraseDialog person={person} onClose={() => undefined} />);
  expect(await screen.findByText(/1 sorties that are not signed and 2 recordings/)).toBeInTheDocument();
  expect(screen.getByText(/stays in 7 signed records of others/)).toBeInTheDocument();
  await userEvent.type(screen.getByLabelText(/^Why/), "asked by letter");
  await userEvent.type(screen.getByLabelText(/Your password/), "height-is-the-budget");
  const erase = screen.getByRole("button", { name: "Erase Ilse" });
  expect(erase).toBeDisabled();
  await userEvent.click(screen.getByRole("radio", { name: /go too, now/ }));
  await userEvent.click(erase);
  expect(sent).toEqual([
    {
      path: "/api/people/3/erase",
      body: { reason: "asked by letter", password: "height-is-the-budget", kept_until: null },
    },
  ]);
});

it("stores what was changed of somebody, and asks before it is dropped", async () => {
  const { sent } = answering({ "/api/people/3": person });
  const onClose = vi.fn();
  shown(<PersonDialog person={person} onClose={onClose} onLink={() => undefined} />);
  expect(screen.getByRole("button", { name: "Store it" })).toBeDisabled();
  await userEvent.click(screen.getByRole("checkbox", { name: "Is taught here" }));
  await userEvent.click(screen.getByRole("button", { name: "Leave it as it was" }));
  expect(onClose).not.toHaveBeenCalled();
  await userEvent.click(screen.getByRole("button", { name: "Go on with it" }));
  await userEvent.click(screen.getByRole("button", { name: "Store it" }));
  expect(sent[0]).toEqual({
    path: "/api/people/3",
    body: { username: "ilse", name: "Ilse", email: "", role: "instructor", student: true, weight_lb: 142 },
  });
});
