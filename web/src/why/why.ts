import { createContext, useContext } from "react";
import type { Answer } from "../api/types";

interface Why {
  /** Opens the panel. id: of the element that shows the number. */ open: (
    answer: Answer,
    id: string,
  ) => void;
  /** The element shows another number now: where the panel is open for it, the panel follows. */ follow: (
    answer: Answer,
    id: string,
  ) => void;
}
export const WhyContext = createContext<Why>({ open: () => undefined, follow: () => undefined });

export function useWhy() {
  return useContext(WhyContext);
}

/** What the panel is open for, and the label of the input of it that is looked at. */
export interface Asked {
  answer: Answer;
  label: string;
}
export const AskedContext = createContext<Asked | null>(null);

export function useAsked() {
  return useContext(AskedContext);
}

/** Answers on the page by the id of the element that shows them, so that the key `w` finds the focused one. */
export const onPage = new Map<string, Answer>();
