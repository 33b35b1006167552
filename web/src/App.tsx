import { lazy, Suspense } from "react";
import { createBrowserRouter, RouterProvider } from "react-router";
import type { Person } from "./api/types";
import { Frame } from "./frame/Frame";
import { Loading, Trouble } from "./frame/states";
import { LogIn } from "./session/LogIn";
import { useSession } from "./session/useSession";
import { useMemo } from "react";

const Today = lazy(() => import("./today/Today"));
const SortiePage = lazy(() => import("./sortie/SortiePage"));
const Students = lazy(() => import("./students/Students"));
const StudentPage = lazy(() => import("./students/StudentPage"));
const Figures = lazy(() => import("./figures/Figures"));
const Fleet = lazy(() => import("./fleet/Fleet"));

export function App() {
  const session = useSession();
  if (session.isPending) return <Loading what="your session" />;
  if (session.isError) return <Trouble error={session.error} again={() => void session.refetch()} />;
  if (!session.data.person) return <LogIn />;
  return <School person={session.data.person} />;
}

function School({ person }: { person: Person }) {
  const router = useMemo(
    () =>
      createBrowserRouter([
        {
          element: <Frame person={person} />,
          children: [
            {
              path: "/",
              element: (
                <Lazily>
                  <Today />
                </Lazily>
              ),
            },
            {
              path: "/sorties/:id",
              element: (
                <Lazily>
                  <SortiePage />
                </Lazily>
              ),
            },
            {
              path: "/sorties/:id/:stage",
              element: (
                <Lazily>
                  <SortiePage />
                </Lazily>
              ),
            },
            {
              path: "/students",
              element: (
                <Lazily>
                  <Students />
                </Lazily>
              ),
            },
            {
              path: "/students/:id",
              element: (
                <Lazily>
                  <StudentPage />
                </Lazily>
              ),
            },
            {
              path: "/figures",
              element: (
                <Lazily>
                  <Figures />
                </Lazily>
              ),
            },
            {
              path: "/fleet",
              element: (
                <Lazily>
                  <Fleet />
                </Lazily>
              ),
            },
            {
              path: "*",
              element: <Trouble error="There is nothing at this address. Choose a place above." />,
            },
          ],
        },
      ]),
    [person],
  );
  return <RouterProvider router={router} />;
}

function Lazily({ children }: { children: React.ReactNode }) {
  return <Suspense fallback={<Loading what="the screen" />}>{children}</Suspense>;
}
