import { useQueryClient } from "@tanstack/react-query";
import { api } from "../api/client";
import type { Account } from "../api/types";

const ACCOUNT = api.queryOptions("get", "/api/account").queryKey;

/** What a door answers about the account is what is shown of it. */
export function useAccountNow(onDone?: () => void) {
  const queries = useQueryClient();
  return {
    onSuccess: (now: Account) => {
      queries.setQueryData(ACCOUNT, now);
      onDone?.();
    },
  };
}
