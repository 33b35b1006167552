/** What is asked of the server in more than one place. */
import type { QueryClient } from "@tanstack/react-query";
import { api } from "./client";
import type { paths } from "./schema";

/** What does not change while the application runs. */
const FOR_GOOD = { staleTime: Infinity };

export const useCatalogue = () => api.useQuery("get", "/api/catalogue", {}, FOR_GOOD);
/** What can be entered in each document, as the core says. */
export const useForms = () => api.useQuery("get", "/api/forms", {}, FOR_GOOD);
export const useFleet = () => api.useQuery("get", "/api/aircraft");
export const usePlaces = () => api.useQuery("get", "/api/places");
export const useStandards = () => api.useQuery("get", "/api/standards");
export const useStudents = () => api.useQuery("get", "/api/students");
export const useInstructors = (enabled = true) => api.useQuery("get", "/api/instructors", {}, { enabled });
export const useRecordings = (sortie_id: number) =>
  api.useQuery("get", "/api/sorties/{sortie_id}/recordings", { params: { path: { sortie_id } } });
export const useToday = () => api.useQuery("get", "/api/today");

/** Everything asked at these addresses is asked again when it is next looked at. */
export function askAgain(queries: QueryClient, ...addresses: (keyof paths)[]) {
  for (const address of addresses) void queries.invalidateQueries({ queryKey: ["get", address] });
}
