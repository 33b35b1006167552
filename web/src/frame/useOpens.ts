import { useEffect } from "react";
import { useSearchParams } from "react-router";

/** What an address asks a page to open ("?open=…"), once: the address is then the page's own again. */
export function useOpens(open: (what: string) => void, ready = true) {
  const [search, setSearch] = useSearchParams();
  const what = search.get("open");
  useEffect(() => {
    if (!what || !ready) return;
    setSearch((now) => {
      now.delete("open");
      return now;
    });
    open(what);
  }, [what, ready, open, setSearch]);
}
