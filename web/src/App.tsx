import { useEffect, useMemo, useState } from "react";
import { createBrowserRouter, RouterProvider } from "react-router";
import type { Person } from "./api/types";
import { Broken } from "./frame/Broken";
import { inZone } from "./frame/dates";
import { Frame } from "./frame/Frame";
import { lazily } from "./frame/lazily";
import { Loading, Trouble } from "./frame/states";
import { FirstStart } from "./session/FirstStart";
import { LogIn } from "./session/LogIn";
import { useLoggedOutAway, useSession } from "./session/useSession";
import { linkAt, Welcome } from "./session/Welcome";

const Today = lazily(() => import("./today/Today"), "today");
const WeekPage = lazily(() => import("./week/WeekPage"), "the week");
const SortiePage = lazily(() => import("./sortie/SortiePage"), "the sortie");
const Students = lazily(() => import("./students/Students"), "the students");
const StudentPage = lazily(() => import("./students/StudentPage"), "the student");
const SchoolPage = lazily(() => import("./school/SchoolPage"), "the school");
const PeoplePage = lazily(() => import("./people/PeoplePage"), "the people");
const DatesPage = lazily(() => import("./dates/DatesPage"), "the dates");
const RecordsPage = lazily(() => import("./records/RecordsPage"), "the records");
const AccountPage = lazily(() => import("./account/AccountPage"), "your account");
const Courses = lazily(() => import("./courses/Courses"), "the courses");
const Figures = lazily(() => import("./figures/Figures"), "the figures");
const Fleet = lazily(() => import("./fleet/Fleet"), "the fleet");

const PAGES = [
  { path: "/", element: <Today /> },
  { path: "/week", element: <WeekPage /> },
  { path: "/sorties/:id", element: <SortiePage /> },
  { path: "/sorties/:id/:stage", element: <SortiePage /> },
  { path: "/students", element: <Students /> },
  { path: "/students/:id", element: <StudentPage /> },
  { path: "/school", element: <SchoolPage /> },
  { path: "/people", element: <PeoplePage /> },
  { path: "/dates", element: <DatesPage /> },
  { path: "/records", element: <RecordsPage /> },
  { path: "/account", element: <AccountPage /> },
  { path: "/courses", element: <Courses /> },
  { path: "/figures", element: <Figures /> },
  { path: "/fleet", element: <Fleet /> },
  { path: "*", element: <Trouble error="There is nothing at this address. Choose a place above." /> },
];

export function App() {
  const session = useSession();
  const out = useLoggedOutAway(session.data?.person ?? null);
  const [link, setLink] = useState(() => linkAt(window.location.pathname));
  if (session.isPending) return <Loading what="your session" />;
  if (session.isError) return <Trouble error={session.error} again={() => void session.refetch()} />;
  inZone(session.data.zone);
  if (link) return <Welcome link={link} onIn={() => setLink(null)} />;
  if (session.data.first_start) return <FirstStart />;
  if (out || !session.data.person) return <LogIn />;
  return <School person={session.data.person} />;
}

const PARTS = [Today, WeekPage, SortiePage, Students, StudentPage, Courses, Figures, Fleet];
const SOON_MS = 1500;

function School({ person }: { person: Person }) {
  const router = useMemo(() => {
    const children = PAGES.map((page) => ({ ...page, errorElement: <Broken /> }));
    return createBrowserRouter([{ element: <Frame person={person} />, children }]);
  }, [person]);
  // Everything is there before the network may be gone.
  useEffect(() => {
    const timer = setTimeout(() => PARTS.forEach((part) => void part.load()), SOON_MS);
    return () => clearTimeout(timer);
  }, []);
  return <RouterProvider router={router} />;
}
