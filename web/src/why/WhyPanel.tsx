import { Box, Button, Drawer, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Answer } from "../api/types";
import { narrow, tokens } from "../theme";
import { sourceWords } from "./source";

const styles = {
  panel: { p: 2.5, display: "flex", flexDirection: "column", gap: 1.5 },
  number: { ...narrow, fontSize: 38, fontWeight: 740, lineHeight: 1.1 },
  source: { display: "block", fontSize: 12.5, color: tokens.slate, fontWeight: 400 },
  input: { ...narrow, fontWeight: 660, whiteSpace: "nowrap" },
} as const;

/** The working behind one number, and the way down into each of its inputs. */
export function WhyPanel({ answer, onClose }: { answer: Answer | null; onClose: () => void }) {
  return (
    <Drawer
      anchor="right"
      open={answer !== null}
      onClose={onClose}
      slotProps={{ paper: { sx: { width: 400, maxWidth: "100vw" }, "aria-label": "Why this number" } }}
    >
      {answer && <Working key={`${answer.label}${answer.value}`} root={answer} onClose={onClose} />}
    </Drawer>
  );
}

function Working({ root, onClose }: { root: Answer; onClose: () => void }) {
  const [trail, setTrail] = useState<Answer[]>([root]);
  const answer = trail[trail.length - 1] ?? root;
  return (
    <Box sx={styles.panel}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center" }}>
        <Typography variant="h2">
          {trail.length > 1
            ? trail
                .slice(0, -1)
                .map((a) => a.label)
                .join(" › ")
            : "Why this number"}
        </Typography>
        <Button onClick={onClose} size="small">
          Close (Esc)
        </Button>
      </Stack>
      <Box>
        <Typography sx={{ fontWeight: 640 }}>{answer.label}</Typography>
        <Typography sx={styles.number}>{answer.shown}</Typography>
      </Box>
      <Section title="How">{sentence(answer.formula)}</Section>
      {answer.inputs.length > 0 && (
        <Section title="From">
          {answer.inputs.map((input, i) => (
            <InputLine key={`${input.label}${i}`} input={input} onOpen={() => setTrail([...trail, input])} />
          ))}
        </Section>
      )}
      {answer.levers.length > 0 && (
        <Section title="What would change it most">
          {answer.levers.map((lever) => (
            <Stack key={lever.change} direction="row" sx={{ justifyContent: "space-between", py: 0.4 }}>
              <span>{lever.change}</span>
              <Box
                component="span"
                sx={{ ...narrow, fontWeight: 660, color: lever.effect < 0 ? tokens.fine : tokens.stop }}
              >
                {lever.shown}
              </Box>
            </Stack>
          ))}
        </Section>
      )}
      <Section title="Source">{sentence(sourceWords(answer.source))}</Section>
      {trail.length > 1 && (
        <Button variant="outlined" onClick={() => setTrail(trail.slice(0, -1))}>
          Back to {trail[trail.length - 2]?.label}
        </Button>
      )}
    </Box>
  );
}

function InputLine({ input, onOpen }: { input: Answer; onOpen: () => void }) {
  const deeper = input.inputs.length > 0;
  const words = (
    <>
      <Box component="span" sx={{ flex: 1, textAlign: "left" }}>
        {input.label}
        <Box component="span" sx={styles.source}>
          {sourceWords(input.source)}
        </Box>
      </Box>
      <Box component="span" sx={styles.input}>
        {input.shown}
        {deeper ? " ›" : ""}
      </Box>
    </>
  );
  const sx = {
    display: "flex",
    gap: 1.5,
    width: "100%",
    alignItems: "flex-start",
    py: 0.8,
    px: 0,
    borderBottom: `1px solid ${tokens.hairline}`,
    borderRadius: 0,
    color: "inherit",
  } as const;
  return deeper ? (
    <Button
      onClick={onOpen}
      sx={{ ...sx, fontWeight: 400 }}
      aria-label={`${input.label}: ${input.shown}. Why?`}
    >
      {words}
    </Button>
  ) : (
    <Box sx={sx}>{words}</Box>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box>
      <Typography variant="h2" component="h3">
        {title}
      </Typography>
      <Box sx={{ fontSize: 14.5 }}>{children}</Box>
    </Box>
  );
}

function sentence(words: string): string {
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}${words.endsWith(".") ? "" : "."}`;
}
