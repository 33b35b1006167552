import { createContext, useContext } from "react";
import type { Answer } from "../api/types";

export const WhyContext = createContext<(answer: Answer) => void>(() => undefined);

/** Opens the why panel for an answer. */
export function useWhy() {
  return useContext(WhyContext);
}

/** Answers on the page by the id of the element that shows them, so that the key `w` finds the focused one. */
export const onPage = new Map<string, Answer>();
