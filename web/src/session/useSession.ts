import { useQueryClient } from "@tanstack/react-query";
import { api } from "../api/client";

const SESSION = api.queryOptions("get", "/api/session").queryKey;

export function useSession() {
  return api.useQuery("get", "/api/session", undefined, { staleTime: 60_000 });
}

export function useLogIn() {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/login", {
    onSuccess: (session) => queries.setQueryData(SESSION, session),
  });
}

export function useLogOut() {
  const queries = useQueryClient();
  return api.useMutation("post", "/api/session/logout", {
    onSuccess: () => {
      queries.setQueryData(SESSION, (before: { zone: string } | undefined) => ({
        person: null,
        zone: before?.zone ?? "UTC",
      }));
      queries.removeQueries({ predicate: (query) => query.queryKey[1] !== SESSION[1] });
    },
  });
}
