import { useEffect, useReducer, useState, type ComponentType } from "react";
import { problemAt, Failed } from "../api/client";
import { Loading, Trouble } from "./states";

const AGAIN_MS = 4000;

/** A part of the application that is fetched when it is first shown. Where it cannot be fetched the page says so and tries
 * again, by itself too: it is loaded anew once the server answers, because a browser remembers that a part was not there. */
export function lazily<P extends object>(
  fetched: () => Promise<{ default: ComponentType<P> }>,
  what: string,
) {
  let Part: ComponentType<P> | null = null;
  const load = async () => {
    Part ??= (await fetched()).default;
  };
  function Lazily(props: P) {
    const [, draw] = useReducer((n: number) => n + 1, 0);
    const [failed, setFailed] = useState(false);
    useEffect(() => {
      let here = true;
      load().then(
        () => here && draw(),
        () => here && setFailed(true),
      );
      return () => void (here = false);
    }, []);
    useEffect(() => {
      if (!failed || Part) return;
      const timer = setInterval(again, AGAIN_MS);
      window.addEventListener("online", again);
      return () => {
        clearInterval(timer);
        window.removeEventListener("online", again);
      };
    }, [failed]);
    if (Part) return <Part {...props} />;
    return failed ? <Trouble error={unfetched(what)} again={again} /> : <Loading what={what} />;
  }
  return Object.assign(Lazily, { load: () => load().catch(() => undefined) });
}

/** The page once more, if somebody is there to give it. What is being entered is kept in the browser. */
function again() {
  globalThis
    .fetch("/api/session", { cache: "no-store" })
    .then((answer) => answer.ok && window.location.reload())
    .catch(() => undefined);
}

function unfetched(what: string) {
  const then = "It is tried again by itself. If the program was renewed meanwhile, load the page again.";
  return new Failed(0, [problemAt("Offline", `${what} could not be fetched`, then)]);
}
