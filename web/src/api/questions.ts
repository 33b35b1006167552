/** What is asked of the server in more than one place. */
import type { QueryClient } from "@tanstack/react-query";
import { api } from "./client";
import type { paths } from "./schema";
import { useEffect, useRef, useState } from "react";

/** What does not change while the application runs. */
const FOR_GOOD = { staleTime: Infinity };

export const useCatalogue = () => api.useQuery("get", "/api/catalogue", {}, FOR_GOOD);
/** What can be entered in each document, as the core says. */
export const useForms = () => api.useQuery("get", "/api/forms", {}, FOR_GOOD);
/** What grades are told by, as the program ships it. */
export const useGradesAsked = () => api.useQuery("get", "/api/grades", {}, FOR_GOOD);
export const useFleet = () => api.useQuery("get", "/api/aircraft");
export const usePlaces = () => api.useQuery("get", "/api/places");
export const useStandards = () => api.useQuery("get", "/api/standards");
export const useCourses = () => api.useQuery("get", "/api/courses");
/** What a student may be planned for, their own course first. */
export const useLessons = (student_id: number) =>
  api.useQuery("get", "/api/lessons", { params: { query: { student_id } } }, { enabled: student_id > 0 });
export const useStudents = () => api.useQuery("get", "/api/students");
export const useInstructors = (enabled = true) => api.useQuery("get", "/api/instructors", {}, { enabled });
export const useRecordings = (sortie_id: number) =>
  api.useQuery("get", "/api/sorties/{sortie_id}/recordings", { params: { path: { sortie_id } } });
const REST_MS = 250;

/** Whether it has been the same for a moment. */
function useResting(now: unknown): boolean {
  const [rested, setRested] = useState<unknown>(undefined);
  useEffect(() => {
    const timer = setTimeout(() => setRested(now), REST_MS);
    return () => clearTimeout(timer);
  }, [now]);
  return rested === now;
}

/** The second look at an attempt; asked again when what was noted of it (stamp) is another. */
export const useLook = (sortie_id: number, attempt: string | undefined, stamp: string) => {
  const resting = useResting(attempt);
  const path = { sortie_id, attempt: attempt ?? "" };
  const asked = api.useQuery(
    "get",
    "/api/sorties/{sortie_id}/looks/{attempt}",
    { params: { path } },
    // Of one where the hand rests; one that is turned away is asked again.
    { enabled: attempt !== undefined && resting, retry: 4, retryDelay: 1500 },
  );
  const { refetch } = asked;
  const last = useRef(stamp);
  useEffect(() => {
    if (last.current !== stamp) void refetch();
    last.current = stamp;
  }, [stamp, refetch]);
  return asked;
};
export const useInbox = () => api.useQuery("get", "/api/inbox");
export const useToday = () => api.useQuery("get", "/api/today");

/** Everything asked at these addresses is asked again when it is next looked at. */
export function askAgain(queries: QueryClient, ...addresses: (keyof paths)[]) {
  for (const address of addresses) void queries.invalidateQueries({ queryKey: ["get", address] });
}
