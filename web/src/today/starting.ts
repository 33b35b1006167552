import { lazily } from "../frame/lazily";

/** Its field for a day and time weighs as much as the whole page before it. */
export const StartSortie = lazily(() => import("./StartSortie"), "what can be planned");
