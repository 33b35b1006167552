/** A week for tests: the second of September 2026, with one place at 58 N. */
import type { BookedSortie, Week } from "../api/types";

export function booked(change: Partial<BookedSortie>): BookedSortie {
  return {
    id: 1,
    lesson: "spins",
    lesson_name: "Spins",
    student: "Petra",
    student_id: 3,
    student_person: 17,
    instructor: "Tam",
    instructor_id: 7,
    aircraft: "QX-ROE",
    aircraft_id: 5,
    aircraft_name: "Selkie",
    place: "Sound",
    place_id: 2,
    planned_for: "2026-09-09T09:30:00Z",
    begins: "2026-09-09T09:30:00Z",
    ends: "2026-09-09T11:00:00Z",
    stage: "planned",
    figures: 4,
    trouble: null,
    cancelled: null,
    version: 1,
    mine: true,
    may_book: true,
    clashes: [],
    last_flew: null,
    ...change,
  };
}

export function weekOf(sorties: BookedSortie[], change: Partial<Week> = {}): Week {
  const days = [7, 8, 9, 10, 11, 12, 13].map((d) => `2026-09-${String(d).padStart(2, "0")}`);
  return {
    now: "2026-09-07T08:00:00Z",
    monday: "2026-09-07",
    usual_min: 90,
    least_min: 15,
    most_min: 720,
    step_min: 15,
    kept_min: 30,
    long_days: 14,
    aircraft: [
      { id: 5, name: "QX-ROE", more: "Selkie" },
      { id: 6, name: "QX-COR", more: "Corrie" },
    ],
    instructors: [
      { id: 9, name: "Ilse Quorn", more: "" },
      { id: 7, name: "Tam Ferrand", more: "" },
    ],
    sorties,
    taken: [],
    light: days.map((day) => ({
      day,
      place_id: 2,
      rises: `${day}T05:56:00Z`,
      sets: `${day}T19:13:00Z`,
    })),
    until: [],
    ...change,
  };
}
