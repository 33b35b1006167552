import { Box, Button, Stack, Typography } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Answer, Working } from "../api/types";
import { Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { HillPicture } from "./HillPicture";
import { sourceWords } from "./source";
import { workingOf } from "./working";

const styles = {
  // Beside the picture, which stays bright: over the column at the right, or from below where there is none.
  beside: {
    bottom: 0,
    top: { xs: "auto", md: 51 },
    left: { xs: 0, md: "auto" },
    right: 0,
    maxHeight: { xs: "62%", md: "none" },
    zIndex: 3,
    width: { xs: "auto", md: 244, lg: 290 },
    overflow: "auto",
    bgcolor: tokens.sheet,
    borderLeft: { md: `1px solid ${tokens.hairline}` },
    borderTop: { xs: `2px solid ${tokens.plan}`, md: "none" },
    "@media print": { display: "none" },
  },
  down: { "&[data-stale]": { fontStyle: "italic", filter: "grayscale(1)" } },
  panel: { p: 2, display: "flex", flexDirection: "column", gap: 1.5 },
  number: { ...narrow, fontSize: 34, fontWeight: 740, lineHeight: 1.1 },
  source: { display: "block", fontSize: 12.5, color: tokens.slate, fontWeight: 400 },
  input: { ...narrow, fontWeight: 660, whiteSpace: "nowrap" },
} as const;

interface Props {
  answer: Answer;
  /** Counts up each time somebody opens it: a number that changes under it does not take the focus. */ opened: number;
  /** Told the label of what is looked at. */ onLook: (label: string) => void;
  /** It takes the place of the column at the right, below the head of a sortie; elsewhere it has a column of its own. */ over: boolean;
  onClose: () => void;
}

/** The working behind one number, and the way down into each of its inputs, beside the screen that shows it. */
export function WhyPanel({ answer, opened, over, onLook, onClose }: Props) {
  const asked = useRef<Element | null>(null);
  const panel = useRef<HTMLElement>(null);
  const working = useQuery({
    queryKey: ["why", useIdentity(answer)],
    queryFn: async () => workingOf(answer),
    gcTime: 60_000,
    staleTime: Infinity,
    // While a number changes under the panel, what stood there stays, and shows that it is of an earlier draft.
    placeholderData: keepPreviousData,
  });
  useEffect(() => {
    asked.current = document.activeElement;
    panel.current?.focus();
  }, [opened]);
  const close = () => {
    onClose();
    if (asked.current instanceof HTMLElement) asked.current.focus();
  };
  return (
    <Box
      component="aside"
      ref={panel}
      tabIndex={-1}
      aria-label="Why this number"
      sx={{ ...styles.beside, position: { xs: "absolute", md: over ? "absolute" : "static" }, flex: "none" }}
      onKeyDown={(e: React.KeyboardEvent) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        close();
      }}
    >
      {working.isError && <Trouble error={working.error} again={() => void working.refetch()} />}
      {working.isPending && <Loading what={`the working of ${answer.shown}`} />}
      {working.data && (
        <Box data-stale={working.isPlaceholderData || undefined} sx={styles.down}>
          <Down key={answer.label} root={working.data} onLook={onLook} onClose={close} />
        </Box>
      )}
      {!working.data && (
        <Button onClick={close} size="small">
          Close
        </Button>
      )}
    </Box>
  );
}

const identities = new WeakMap<Answer, number>();
let next = 0;
/** A name for a number on the screen, which is another once it was computed anew. */
function useIdentity(answer: Answer): number {
  if (!identities.has(answer)) identities.set(answer, (next += 1));
  return identities.get(answer) ?? 0;
}

interface DownProps {
  root: Working;
  onLook: (label: string) => void;
  onClose: () => void;
}

function Down({ root, onLook, onClose }: DownProps) {
  // The way down by its labels: when the number changes under it, it is walked anew.
  const [labels, setLabels] = useState<string[]>([]);
  const trail = walked(root, labels);
  const answer = trail[trail.length - 1] ?? root;
  useEffect(() => {
    onLook(answer.label);
  }, [answer.label, onLook]);
  const line = (input: Working, i: number) => (
    <InputLine key={`${input.label}${i}`} input={input} onOpen={() => setLabels([...labels, input.label])} />
  );
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
      {answer.hill && <HillPicture answer={answer} hill={answer.hill} />}
      {answer.inputs.length > 0 && <Section title="From">{answer.inputs.map(line)}</Section>}
      {answer.pilot.length > 0 && <Section title="The pilot behind it">{answer.pilot.map(line)}</Section>}
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
        <Button variant="outlined" onClick={() => setLabels(labels.slice(0, -1))}>
          Back to {trail[trail.length - 2]?.label}
        </Button>
      )}
    </Box>
  );
}

/** The number and what was opened below it, as far as it is still there. */
function walked(root: Working, labels: string[]): Working[] {
  const trail = [root];
  for (const label of labels) {
    const next = trail[trail.length - 1]?.inputs.find((input) => input.label === label);
    if (!next) break;
    trail.push(next);
  }
  return trail;
}

function InputLine({ input, onOpen }: { input: Working; onOpen: () => void }) {
  const deeper = input.inputs.length > 0 || input.hill != null;
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
    <Button onClick={onOpen} sx={{ ...sx, fontWeight: 400 }}>
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
