import { Box, Button } from "@mui/material";
import { useMemo, useState } from "react";
import { NavLink, Outlet, useLocation } from "react-router";
import type { Answer, Person } from "../api/types";
import { LogInAgain } from "../session/LogInAgain";
import { DeviceBar } from "../device/DeviceBar";
import { useKeeping } from "../device/keeping";
import { LoadingBar } from "../session/LoadingBar";
import { LogOut } from "../session/LogOut";
import { narrow, tokens } from "../theme";
import { WhyPanel } from "../why/WhyPanel";
import { AskedContext, onPage, WhyContext } from "../why/why";
import { Find } from "./Find";
import { Help } from "./Help";
import { zoneName } from "./dates";
import { Key } from "./Key";
import { useLight } from "./light";
import { LightKey } from "./LightKey";
import { useCommands } from "./commands";
import { Wordmark } from "./Wordmark";

const styles = {
  page: { height: "100dvh", display: "flex", flexDirection: "column", "@media print": { height: "auto" } },
  places: {
    display: "flex",
    gap: 0.5,
    flex: 1,
    // On a phone the places have a line of their own.
    order: { xs: 1, sm: 0 },
    flexBasis: { xs: "100%", sm: 0 },
    justifyContent: { xs: "space-between", sm: "flex-start" },
  },
  home: {
    textDecoration: "none",
    display: "flex",
    alignItems: "center",
    minHeight: 44,
    mr: { xs: "auto", sm: 0 },
  },
  place: {
    px: { xs: 0.7, md: 1.2 },
    height: 48,
    display: "flex",
    alignItems: "center",
    whiteSpace: "nowrap",
    color: tokens.slate,
    fontWeight: 620,
    textDecoration: "none",
    borderBottom: "3px solid transparent",
    "&.active": { color: tokens.plan, borderColor: tokens.plan },
  },
  find: {
    color: tokens.slate,
    display: { xs: "none", sm: "inline-flex" },
    // Narrower than a tablet is a page that was made larger: there is a key for it.
    "@media (max-width: 760px)": { display: "none" },
  },
  help: { color: tokens.slate, display: { xs: "none", md: "inline-flex" } },
  person: {
    ...narrow,
    display: "flex",
    alignItems: "center",
    minHeight: 44,
    color: tokens.slate,
    whiteSpace: "nowrap",
    textDecoration: "none",
    "&.active": { color: tokens.plan, fontWeight: 650 },
  },
  beside: {
    flex: 1,
    minHeight: 0,
    position: "relative",
    display: "flex",
    "@media print": { display: "block" },
  },
  // What is focused comes to stand above the working, where that lies over the lower half.
  content: {
    "[data-why-open] & *": { scrollPaddingBottom: { xs: "64vh", md: 0 } },
    flex: 1,
    minWidth: 0,
    overflow: "auto",
    "@media print": { overflow: "visible" },
  },
} as const;

const PLACES = [
  ["/", "Today"],
  ["/students", "Students"],
  ["/courses", "Courses"],
  ["/figures", "Figures"],
  ["/fleet", "Fleet and places"],
] as const;

/** Header, the why panel, find and help: what every screen has. */
export function Frame({ person }: { person: Person }) {
  const [why, setWhy] = useState<{ answer: Answer; id: string; opened: number } | null>(null);
  const [label, setLabel] = useState("");
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
  const { pathname } = useLocation();
  const inSortie = pathname.startsWith("/sorties/");
  const flying = /^\/sorties\/\d+\/fly$/.test(pathname);
  useKeeping(person.id);
  useLight(flying);
  const whys = useMemo(
    () => ({
      open: (answer: Answer, id: string) =>
        setWhy((before) => ({ answer, id, opened: (before?.opened ?? 0) + 1 })),
      follow: (answer: Answer, id: string) =>
        setWhy((before) => (before?.id === id && before.answer !== answer ? { ...before, answer } : before)),
    }),
    [],
  );
  const asked = useMemo(() => why && { answer: why.answer, label }, [why, label]);
  useCommands({
    why: () => {
      const focused =
        document.activeElement?.closest("[data-why]") ??
        document.querySelector("[data-why-main]") ??
        document.querySelector("[data-why]");
      const id = focused?.getAttribute("data-why") ?? "";
      const answer = onPage.get(id);
      if (answer) whys.open(answer, id);
    },
    find: () => setFinding(true),
    help: () => setHelping(true),
  });
  const own = person.role === "student" ? `/students/${person.student_id ?? ""}` : null;
  const places = own
    ? ([
        ["/", "Today"],
        [own, "My record"],
        ["/courses", "Courses"],
        ["/figures", "Figures"],
        ["/fleet", "Fleet and places"],
      ] as const)
    : PLACES;
  return (
    <WhyContext value={whys}>
      <Box sx={styles.page}>
        <Box
          component="header"
          sx={{
            display: { xs: inSortie ? "none" : "flex", md: "flex" },
            alignItems: "center",
            columnGap: { xs: 0.5, md: 2 },
            px: { xs: 1, md: 2.5 },
            minHeight: 48,
            flexWrap: { xs: "wrap", sm: "nowrap" },
            flex: "none",
            bgcolor: tokens.sheet,
            borderBottom: `1px solid ${tokens.hairline}`,
            "@media print": { display: "none" },
          }}
        >
          <Box component={NavLink} to="/" sx={styles.home}>
            <Wordmark />
          </Box>
          <Box component="nav" aria-label="Places" sx={styles.places}>
            {places.map(([to, words]) => (
              <Box key={to} component={NavLink} to={to} end={to === "/"} sx={styles.place}>
                {words}
              </Box>
            ))}
          </Box>
          <Button size="small" color="inherit" onClick={() => setFinding(true)} sx={styles.find}>
            Find
            <Key of="find" />
          </Button>
          <Button size="small" color="inherit" onClick={() => setHelping(true)} sx={styles.help}>
            Help
            <Key of="help" />
          </Button>
          <LightKey size="small" color="inherit" sx={styles.help} />
          <Box component={NavLink} to="/account" sx={styles.person} title={`Times in ${zoneName()}`}>
            <Box component="span" sx={{ display: { xs: "none", lg: "inline" } }}>
              {person.name}
            </Box>
            <Box component="span" sx={{ display: { lg: "none" } }}>
              Account
            </Box>
          </Box>
          <LogOut person={person} />
        </Box>
        <DeviceBar flying={flying} />
        {!flying && <LoadingBar />}
        <Box sx={styles.beside} data-why-open={why ? "" : undefined}>
          <Box sx={styles.content}>
            <AskedContext value={asked}>
              <Outlet context={person} />
            </AskedContext>
          </Box>
          {why && (
            <WhyPanel
              answer={why.answer}
              opened={why.opened}
              over={inSortie}
              onLook={setLabel}
              onClose={() => setWhy(null)}
            />
          )}
        </Box>
      </Box>
      <LogInAgain person={person} />
      {finding && <Find onClose={() => setFinding(false)} />}
      {helping && <Help onClose={() => setHelping(false)} />}
    </WhyContext>
  );
}
