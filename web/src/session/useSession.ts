import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answered, api, server } from "../api/client";
import type { Person, Session } from "../api/types";
import { forgetAllBut } from "../device/database";
import { forgetWho, isStillToBeLoggedOut, loggedIn } from "../device/who";

const SESSION = api.queryOptions("get", "/api/session").queryKey;

const LOADING_MS = 2000;

export function useSession() {
  return api.useQuery("get", "/api/session", undefined, { staleTime: 60_000 });
}

/** How far the demo school is, while it is being loaded; when all of it is there, every page asks again. */
export function useLoading(): Session["loading"] {
  const queries = useQueryClient();
  const { data } = api.useQuery("get", "/api/session", undefined, {
    staleTime: 60_000,
    refetchInterval: (query) => (query.state.data?.loading ? LOADING_MS : false),
  });
  const loading = data?.loading ?? null;
  const before = useRef(loading);
  useEffect(() => {
    if (before.current && !loading) void queries.invalidateQueries();
    before.current = loading;
  }, [loading, queries]);
  return loading;
}

/** Whether this person logged out while there was no server to tell; it is told now. */
export function useLoggedOutAway(person: Person | null): boolean {
  const queries = useQueryClient();
  const out = person !== null && isStillToBeLoggedOut();
  useEffect(() => {
    if (!out) return;
    void answered(server.POST("/api/session/logout")).then((session) => {
      forgetWho(true);
      queries.setQueryData(SESSION, session);
    });
  }, [out, queries]);
  return out;
}

export function useLogIn() {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/login", {
    onSuccess: (session) => {
      // Right so far, and not in yet.
      if (session.asks_code) return;
      loggedIn();
      queries.setQueryData(SESSION, session);
    },
  });
}

/** The first of all. */
export function useFirst() {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/first", {
    onSuccess: (session) => {
      loggedIn();
      queries.setQueryData(SESSION, session);
    },
  });
}

/** Through a link, with a password of one's own. */
export function useEnter() {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/welcome/{name}/{token}", {
    onSuccess: (session) => {
      if (session.person) loggedIn();
      // Not back to the link, which opens once.
      window.history.replaceState(null, "", "/");
      queries.setQueryData(SESSION, session);
    },
  });
}

export function useLogOut(person: Person) {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/logout", {
    onSettled: (_, error) => {
      // Without a network too: what is on the device goes, and the server is told when it answers again.
      forgetWho(error === null);
      void forgetAllBut(person.id).catch(() => undefined);
      queries.setQueryData(SESSION, (before: Session | undefined) => ({
        person: null,
        zone: before?.zone ?? "UTC",
        now: before?.now ?? new Date().toISOString(),
        asks_code: false,
        mail: before?.mail ?? false,
        letters_kept: before?.letters_kept ?? false,
        school: before?.school ?? "",
        first_start: false,
        loading: null,
      }));
      queries.removeQueries({ predicate: (query) => query.queryKey[1] !== SESSION[1] });
    },
  });
}
