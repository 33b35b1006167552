import { Button, Menu, MenuItem, type ButtonProps } from "@mui/material";
import { useState } from "react";
import { chooseLight, LIGHT_WORDS, LIGHTS, useChosenLight } from "./light";

/** In which light the screen is read. */
export function LightKey(props: ButtonProps) {
  const light = useChosenLight();
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button {...props} aria-haspopup="menu" onClick={(e) => setAt(e.currentTarget)}>
        Light
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {LIGHTS.map((one) => (
          <MenuItem
            key={one}
            selected={one === light}
            sx={{ minHeight: 48 }}
            onClick={() => {
              chooseLight(one);
              setAt(null);
            }}
          >
            {LIGHT_WORDS[one]}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
