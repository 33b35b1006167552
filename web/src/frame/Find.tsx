import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answered, server } from "../api/client";
import { dayAndTime } from "./dates";
import { PickDialog } from "./PickDialog";

interface Found {
  words: string;
  kind: string;
  to: string;
}

/** Find anything by typing a few letters: sorties, students, aircraft, places. */
export function Find({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const { data: all = [], isPending } = useQuery({ queryKey: ["find"], queryFn: everything });
  return (
    <PickDialog
      title="Find"
      label="A name, an aircraft, a place"
      options={all}
      loading={isPending}
      group={(found) => found.kind}
      name={(found) => found.words}
      keyOf={(found) => found.to + found.words}
      none="Nothing with these letters. Try a name, an aircraft or a place."
      onPick={(found) => void navigate(found.to)}
      onClose={onClose}
    />
  );
}

async function everything(): Promise<Found[]> {
  const [catalogue, today, students, aircraft, places] = await Promise.all([
    answered(server.GET("/api/catalogue")),
    answered(server.GET("/api/today")),
    answered(server.GET("/api/students")),
    answered(server.GET("/api/aircraft")),
    answered(server.GET("/api/places")),
  ]);
  return [
    ...students.map((s) => ({ words: s.name, kind: "Students", to: `/students/${s.id}` })),
    ...[...today.sorties, ...today.recent].map((s) => ({
      words: `${s.student}, ${s.lesson_name}, ${dayAndTime(s.planned_for)}`,
      kind: "Sorties",
      to: `/sorties/${s.id}`,
    })),
    ...aircraft.map((a) => ({
      words: `${a.registration} ${a.card.name}`,
      kind: "Fleet",
      to: `/fleet?aircraft=${a.id}`,
    })),
    ...places.map((p) => ({ words: p.place.name, kind: "Places", to: "/fleet" })),
    ...catalogue.figures.map((f) => ({ words: f.name, kind: "Figures", to: `/figures?figure=${f.key}` })),
  ];
}
