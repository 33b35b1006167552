import { ButtonBase, type SxProps, type Theme } from "@mui/material";
import { useEffect, useId } from "react";
import type { Answer } from "../api/types";
import { narrow, tokens } from "../theme";
import { onPage, useWhy } from "./why";

/** A number that answers "why?": click it, or focus it and press w. */
export function WhyNumber({
  answer,
  text,
  sx,
  main = false,
}: {
  answer: Answer;
  text?: string;
  sx?: SxProps<Theme>;
  main?: boolean;
}) {
  const { open, follow } = useWhy();
  const id = useId();
  useEffect(() => {
    onPage.set(id, answer);
    follow(answer, id);
    return () => void onPage.delete(id);
  }, [id, answer, follow]);
  return (
    <ButtonBase
      data-why={id}
      data-why-main={main || undefined}
      onClick={(e) => {
        e.stopPropagation();
        open(answer, id);
      }}
      aria-label={`${answer.label}: ${text ?? answer.shown}. Why?`}
      sx={[
        {
          ...narrow,
          font: "inherit",
          fontStretch: "85%",
          fontWeight: 680,
          color: "inherit",
          borderBottom: `1px dotted ${tokens.slate}`,
          lineHeight: 1.25,
          verticalAlign: "baseline",
          "&:hover": { borderBottomStyle: "solid" },
        },
        ...(Array.isArray(sx) ? (sx as object[]) : [sx as object]),
      ]}
    >
      {text ?? answer.shown}
    </ButtonBase>
  );
}
