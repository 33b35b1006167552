import { Button, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import type { FlownBy } from "../../api/types";

interface Props {
  who: FlownBy;
  all: readonly FlownBy[];
  disabled: boolean;
  onWho: (who: FlownBy) => void;
}

/** Who has the controls in this go. */
export function WhoKey({ who, all, disabled, onWho }: Props) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        disabled={disabled}
        aria-haspopup="menu"
        aria-label={`Who flies: ${who}`}
        onClick={(e) => setAt(e.currentTarget)}
      >
        {who} ▾
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {all.map((one) => (
          <MenuItem
            key={one}
            selected={one === who}
            sx={{ minHeight: 64, fontSize: 18, whiteSpace: "normal" }}
            onClick={() => {
              onWho(one);
              setAt(null);
            }}
          >
            {one}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
