/** Short names for the server's types. The types themselves are generated: see schema.d.ts. */
import type { Readable } from "openapi-typescript-helpers";
import type { components } from "./schema";

type All = components["schemas"];
/** A number with everything that it was worked out from. */
export type Working = Readable<All["Answer"]>;
/** As it is sent to a screen: every number without its working. */
type Thin<T> = T extends Working
  ? Answer
  : T extends readonly (infer Item)[]
    ? Thin<Item>[]
    : T extends object
      ? { [Name in keyof T]: Thin<T[Name]> }
      : T;
type Schemas = { [Name in keyof All]: Thin<Readable<All[Name]>> };
/** A number as it is sent to a screen. */
export type Answer = Pick<Working, "label" | "value" | "unit" | "number" | "shown">;
export type Check = Schemas["Check"];
export type PlanAnswer = Schemas["PlanAnswer"];
export type FigureAnswer = Schemas["FigureAnswer"];
export type PlanDocument = Schemas["PlanDocument"];
export type PlannedFigure = Schemas["PlannedFigure"];
export type Attempt = Schemas["Attempt"];
export type Entry = Schemas["Entry"];
export type LossAccount = Schemas["LossAccount"];
export type Recorded = Schemas["RecordedOut"];
export type EarlierGo = Schemas["EarlierGo"];
export type Waiting = Schemas["WaitingOut"];
export type LookedAt = Schemas["LookedAt"];
export type ColumnMap = Schemas["ColumnMap"];
export type FigureFound = Schemas["FigureFound"];
export type Shape = Schemas["Shape"];
export type LineFlown = Schemas["LineFlown"];
export type Trace = Schemas["Trace"];
export type GradesAsked = Readable<All["GradesAsked"]>;
export type Grading = Readable<All["Grading"]>;
export type ReadAgain = Readable<All["ReadAgain"]>;
export type Mark = Readable<All["Mark"]>;
export type SecondLook = Readable<All["SecondLook"]>;
export type Advice = SecondLook["advice"] & object;
export type Proposal = SecondLook["proposal"] & object;
export type Technique = Readable<All["Technique"]>;
export type Lanes = Technique["lanes"] & object;
export type FaultSeen = Technique["faults"][number];
export type AccountTold = Technique["account"] & object;
export type Brief = Schemas["Brief"];
export type Debrief = Schemas["Debrief"];
export type Sortie = Schemas["SortieOut"];
export type SignedSortie = Schemas["SignedSortie"];
export type ComingSortie = Schemas["ComingSortie"];
export type Person = Schemas["PersonOut"];
export type Session = Schemas["SessionOut"];
export type StudentLine = Schemas["StudentLine"];
export type SchoolSeen = Schemas["SchoolSeen"];
export type SpinBeside = Readable<All["SpinBeside"]>;
export type Safe = Schemas["Safe"];
export type Records = Readable<All["RecordsOut"]>;
export type Done = Readable<All["DoneOut"]>;
export type PersonLine = Readable<All["PersonLine"]>;
export type LinkMade = Readable<All["LinkOut"]>;
export type Account = Readable<All["AccountOut"]>;
export type Week = Readable<All["WeekOut"]>;
export type BookedSortie = Week["sorties"][number];
export type CalendarRead = Readable<All["CalendarRead"]>;
export type Dates = Readable<All["DatesOut"]>;
export type DateKept = Dates["dates"][number];
export type Requirements = Readable<All["RequirementsOut"]>;
export type WouldGo = Readable<All["WouldGoOut"]>;
export type PersonIn = All["PersonIn"];
export type Problem = Schemas["ProblemOut"];
export type Conflict = Schemas["Conflict"];
export type Catalogue = Schemas["Catalogue"];
export type Figure = Schemas["FigureOut"];
export type Student = Schemas["StudentOut"];
export type PastAttempt = Schemas["PastAttempt"];
export type Way = NonNullable<Student["way"]>;
export type Task = Schemas["TaskOut"];
export type NextLesson = Schemas["NextOut"];
export type Course = Readable<All["CourseOut"]>;
export type CourseDocument = Course["course"];
export type CourseTask = CourseDocument["tasks"][number];
export type CourseLesson = CourseDocument["lessons"][number];
export type Differs = Schemas["Differs"];
export type Aircraft = Schemas["AircraftOut"];
export type Place = Schemas["PlaceOut"];
export type CloserLook = Schemas["CloserLook"];
export type SideView = Schemas["SideView"];
export type GateMap = Schemas["GateMap"];
export type Fit = Schemas["FitOut"];
export type Difference = Schemas["Difference"];
export type Proposed = Schemas["ProposedOut"];
export type DayRead = Schemas["DayReadOut"];
export type Question = Schemas["Asked"];
export type BriefPage = Schemas["BriefPage"];
export type Book = Schemas["BookOut"];
export type FigureStandard = Schemas["FigureStandard"];
export type Change = Schemas["ChangeOut"];
export type Card = Schemas["Card"];
export type PlaceDocument = Place["place"];
export type FlownBy = PlannedFigure["flown_by"];
export type FieldSpec = Schemas["FieldSpec"];
export type BlankCost = Schemas["BlankCost"];
export type EstimateLine = Schemas["EstimateLine"];
export type HeldStandards = Schemas["StandardsOut"];
export type Standards = HeldStandards["standards"];
export type Stage = Sortie["stage"];
export type Verdict = Check["verdict"];
export type FieldCorrection = Schemas["FieldCorrection"];
