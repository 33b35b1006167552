import { Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useLogIn } from "./useSession";

/** Name, password, and the code of a second factor once it is asked for; what is typed, and trying it. */
export function useCredentials() {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const logIn = useLogIn();
  const asked = logIn.data?.asks_code ?? false;
  const [wanted, setWanted] = useState(false);
  if (asked && !wanted) setWanted(true);
  return {
    logIn,
    username,
    body: { username, password, code: wanted ? code : "" },
    forget: () => {
      setPassword("");
      setCode("");
    },
    fields: (
      <Stack sx={{ gap: 2 }}>
        <TextField
          label="Name to log in"
          autoComplete="username"
          autoFocus
          required
          value={username}
          onChange={(e) => setUsername(e.target.value)}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        {wanted && (
          <>
            <Typography sx={{ fontSize: 14.5 }}>
              Name and password are right. Now the code of your second factor.
            </Typography>
            <TextField
              label="Code"
              autoFocus
              required
              autoComplete="one-time-code"
              value={code}
              onChange={(e) => setCode(e.target.value)}
              helperText="Six figures from your app, or one of your recovery codes."
            />
          </>
        )}
      </Stack>
    ),
  };
}
