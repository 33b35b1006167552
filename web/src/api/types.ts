/** Short names for the server's types. The types themselves are generated: see schema.d.ts. */
import type { Readable } from "openapi-typescript-helpers";
import type { components } from "./schema";

type All = components["schemas"];
type Schemas = { [Name in keyof All]: Readable<All[Name]> };
export type Answer = Schemas["Answer"];
export type Check = Schemas["Check"];
export type PlanAnswer = Schemas["PlanAnswer"];
export type FigureAnswer = Schemas["FigureAnswer"];
export type PlanDocument = Schemas["PlanDocument"];
export type PlannedFigure = Schemas["PlannedFigure"];
export type Attempt = Schemas["Attempt"];
export type LossAccount = Schemas["LossAccount"];
export type Brief = Schemas["Brief"];
export type Debrief = Schemas["Debrief"];
export type Sortie = Schemas["SortieOut"];
export type SortieLine = Schemas["SortieLine"];
export type ComingSortie = Schemas["ComingSortie"];
export type Person = Schemas["PersonOut"];
export type Problem = Schemas["ProblemOut"];
export type Conflict = Schemas["Conflict"];
export type Figure = Schemas["FigureOut"];
export type Student = Schemas["StudentOut"];
export type PastAttempt = Schemas["PastAttempt"];
export type Aircraft = Schemas["AircraftOut"];
export type Place = Schemas["PlaceOut"];
export type Stage = Sortie["stage"];
export type Verdict = Check["verdict"];
