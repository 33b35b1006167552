import { answer } from "../fixtures";
import { withWorking, workingOf } from "./working";

const thin = (label: string) => ({ label, value: 1, unit: "ft", number: "1", shown: "1 ft" });

it("a number knows the place at which its working is asked for", async () => {
  const asked: string[] = [];
  const plan = {
    floor: thin("Floor"),
    figures: [{ start: thin("Start"), joined: { climb: thin("Climb") } }],
  };
  withWorking(plan, "answer", (at) => {
    asked.push(at);
    return Promise.resolve(answer("found", 1));
  });
  expect(await workingOf(plan.figures[0]!.joined.climb)).toMatchObject({ label: "found" });
  await workingOf(plan.floor);
  expect(asked).toEqual(["answer.figures.0.joined.climb", "answer.floor"]);
});

it("a number that has its working at hand is not asked for, and one that nobody knows says so", async () => {
  const whole = answer("Stall", 52);
  expect(workingOf(whole)).toBe(whole);
  await expect(workingOf(thin("stray"))).rejects.toThrow("not known here");
});
