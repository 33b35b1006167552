/** In which light the screen is read: as the system says, unless somebody chose. Sunlight is for Fly; elsewhere it is day. */
import { useEffect, useSyncExternalStore } from "react";

export const LIGHTS = ["system", "day", "dusk", "sun"] as const;
export type Light = (typeof LIGHTS)[number];
export const LIGHT_WORDS: Record<Light, string> = {
  system: "As the device says",
  day: "Day",
  dusk: "Dusk and night",
  sun: "Sunlight, in Fly",
};

const KEY = "keelturn.light";
const listeners = new Set<() => void>();

function chosen(): Light {
  return LIGHTS.find((light) => light === localStorage.getItem(KEY)) ?? "system";
}

export function chooseLight(light: Light) {
  localStorage.setItem(KEY, light);
  for (const tell of listeners) tell();
}

export function useChosenLight(): Light {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => void listeners.delete(tell);
  }, chosen);
}

/** The page in the light that was chosen. */
export function useLight(flying: boolean) {
  const light = useChosenLight();
  const shown = light === "sun" && !flying ? "day" : light;
  useEffect(() => {
    if (shown === "system") delete document.documentElement.dataset.light;
    else document.documentElement.dataset.light = shown;
  }, [shown]);
}
