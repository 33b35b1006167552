/** Fields whose text is not taken yet: what is half typed or not understood is known to the screen around it, so that
 * it can say so and does not go on without it. */
import { createContext, useCallback, useContext, useEffect, useId, useMemo, useState } from "react";

export interface Typed {
  label: string;
  /** Why it cannot be taken; empty while it is only not finished. */ problem: string;
}

type Tell = (id: string, typed: Typed | null) => void;
export const TypingContext = createContext<Tell>(() => undefined);

/** The fields around here that hold something untaken, and what to give `TypingContext`. */
export function useTyping(): { typed: Typed[]; tell: Tell } {
  const [held, setHeld] = useState<ReadonlyMap<string, Typed>>(new Map());
  const tell = useCallback<Tell>((id, typed) => {
    setHeld((before) => {
      if (!typed && !before.has(id)) return before;
      const next = new Map(before);
      if (typed) next.set(id, typed);
      else next.delete(id);
      return next;
    });
  }, []);
  const typed = useMemo(() => [...held.values()], [held]);
  return { typed, tell };
}

/** Tells the screen around a field that it holds text which is not taken. */
export function useUntaken(label: string, text: string | null, problem: string) {
  const tell = useContext(TypingContext);
  const id = useId();
  useEffect(() => {
    tell(id, text === null ? null : { label, problem });
  }, [tell, id, label, text, problem]);
  useEffect(() => () => tell(id, null), [tell, id]);
}
