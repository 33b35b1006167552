import { Button, Paper, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { NumberField } from "../forms/NumberField";
import { zoneName } from "../frame/dates";
import { Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { tokens } from "../theme";
import { Doorway } from "./Doorway";
import { useFirst } from "./useSession";

const styles = {
  form: {
    p: 3,
    width: "100%",
    maxWidth: 420,
    border: `1px solid ${tokens.hairline}`,
    display: "grid",
    gap: 2,
  },
} as const;

const BLANK = { school: "", name: "", username: "", email: "", password: "" };

/** An installation in which nobody is yet: whoever comes first names the school and is its chief. */
export function FirstStart() {
  useTitle("First start");
  const [typed, setTyped] = useState(BLANK);
  const [weight, setWeight] = useState<number | null>(null);
  const [again, setAgain] = useState("");
  const first = useFirst();
  const differ = again !== "" && again !== typed.password;
  const field = (name: keyof typeof BLANK, label: string, more: object = {}) => (
    <TextField
      size="small"
      required={name !== "email"}
      label={label}
      value={typed[name]}
      onChange={(e) => setTyped((before) => ({ ...before, [name]: e.target.value }))}
      {...more}
    />
  );
  return (
    <Doorway words="Nobody is here yet. Name the school and become its chief instructor.">
      <Paper
        component="form"
        sx={styles.form}
        onSubmit={(event: React.FormEvent) => {
          event.preventDefault();
          if (again === typed.password && weight !== null)
            first.mutate({ body: { ...typed, weight_lb: weight } });
        }}
      >
        {field("school", "The school's name", { autoFocus: true })}
        {field("name", "Your name", { autoComplete: "name" })}
        {field("username", "Name to log in", { autoComplete: "username" })}
        {field("email", "E-mail, if you like", { autoComplete: "email" })}
        <NumberField
          label="Your weight with clothes"
          unit="lb"
          least={66}
          most={400}
          value={weight}
          onValue={setWeight}
        />
        {field("password", "A password of your own", { type: "password", autoComplete: "new-password" })}
        <TextField
          size="small"
          required
          type="password"
          label="The same again"
          autoComplete="new-password"
          error={differ}
          helperText={differ ? "The two differ." : ""}
          value={again}
          onChange={(e) => setAgain(e.target.value)}
        />
        {first.isError && <Trouble error={first.error} />}
        <Button type="submit" variant="contained" disabled={first.isPending || differ || weight === null}>
          Begin
        </Button>
        <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>
          Times are shown in {zoneName()}: the machine&apos;s setting, said in docs/running.md. A school that
          was exported elsewhere is taken in on the machine instead: manage.py import_school.
        </Typography>
      </Paper>
    </Doorway>
  );
}
