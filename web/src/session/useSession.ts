import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, server } from "../api/client";

export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: () => answered(server.GET("/api/session")),
    staleTime: 60_000,
  });
}

export function useLogIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: { username: string; password: string }) =>
      answered(server.POST("/api/session/login", { body })),
    onSuccess: (session) => queries.setQueryData(["session"], session),
  });
}

export function useLogOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answered(server.POST("/api/session/logout")),
    onSuccess: () => {
      queries.setQueryData(["session"], { person: null });
      queries.removeQueries({ predicate: (query) => query.queryKey[0] !== "session" });
    },
  });
}
