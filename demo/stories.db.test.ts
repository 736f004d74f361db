import { describe, expect, it } from "vitest";
import { readCalendar } from "#server/db/calendar.ts";
import { listGoals } from "#server/db/students.ts";
import { openThrowaway } from "#tests/database.ts";
import { demoIds, inScope } from "#tests/demo-school.ts";
import { readOpenGoal } from "../app/routes/student/read-open-goal.server.ts";
import { seedDemo } from "./seed.ts";
import { daysAgo } from "#tests/clock.ts";
import { eightDays, withSlowTests } from "#tests/eight-days.ts";

/** The demo as it would be on that day, and what the page of a goal says there. */
async function demoOn(today: string) {
  const db = await openThrowaway("empty", { at: `${today}T18:40:00Z` });
  await seedDemo(db.owner, { today });
  const demo = await demoIds(db.owner);
  const page = (given: string, number: string) =>
    inScope(db.app, demo.person("noor"), demo.student(given), async (scope) => {
      const goals = await listGoals(scope, demo.student(given));
      const goal = goals.find((one) => one.goalId === demo.goal(given, number));
      if (!goal) throw new Error(`${given} ${number}`);
      const calendar = await readCalendar(scope);
      return readOpenGoal(scope, goal, goals, { today, calendar, scale: "linear" });
    });
  return { db, page };
}

const plain = (text: string | undefined) => text?.replaceAll("\u00a0", " ");

// Its dates follow the day it is seeded on.
describe.each([daysAgo(0), ...(withSlowTests ? eightDays.map(({ on }) => on) : [])])(
  "the stories of the demo, seeded on %s",
  (today) => {
    it("are each told right", async () => {
      const { db, page } = await demoOn(today);
      try {
        const kept = await page("Tobias", "3");
        expect(kept.standing.key).toBe("met");
        expect(plain(kept.standing.why)).toMatch(
          /^Confirmed on .*Criterion reached on .*: .* reached 90%\.$/,
        );
        const climbing = await page("Priya", "1");
        // On one of the days the last of the noise brings her over the criterion.
        expect([
          ["ahead", "raise"],
          ["reached", "confirm"],
        ]).toContainEqual([climbing.standing.key, climbing.says.advice.key]);
        if (climbing.standing.key === "ahead")
          expect(plain(climbing.says.rate ?? "")).toMatch(
            /^Gaining about .* a week \(.* to .*\); the goal needs .*\. The pace is enough\.$/,
          );
        expect(plain(climbing.says.changes[0]?.words)).toMatch(
          /^Since baseline: \d\d% → \d\d%, \+[2-4]\d points .* in (9\d|100)% of \d+ comparisons/,
        );
        const flat = await page("Wren", "4");
        expect(flat.standing.key).toBe("behind");
        expect(flat.says.advice).toMatchObject({ key: "change", asksTaught: true });
        expect(plain(flat.says.changes[0]?.words)).toMatch(
          /^Since baseline: \d\d% → \d\d%, (no change|−\d+ points) /,
        );
        const changed = await page("Wren", "2b");
        expect(changed.standing.key).toBe("ahead");
        expect(plain(changed.says.changes[1]?.words)).toMatch(
          /^Since “place-value mat” began: \d\d% → \d\d%, \+[23]\d points \(medians of \d+ points before, \d+ since\); points since the change beat points before it in (9\d|100)% of \d+ comparisons/,
        );
        const few = await page("Lumi", "1");
        expect(few.standing.key).toBe("too-few");
        expect(few.standing.why).toContain("Three points in this phase; four are needed.");
        expect(few.says.outlook).toEqual({
          hidden: "A projection needs six points on three days in this phase.",
        });
        const freer = await page("Yara", "2");
        expect(plain(freer.says.independence ?? undefined)).toMatch(
          /^Independence is growing: opportunities at “independent” rise .* a week, while credited opportunities \(with moderate assistance or less\) stay level\.$/,
        );
        const reached = await page("Rafi", "2");
        expect([reached.standing.key, reached.says.advice.key]).toEqual(["reached", "confirm"]);
        expect(plain(reached.standing.why)).toMatch(/^Criterion reached on .*sessions reached 80%\.$/);
        const stale = await page("Anselm", "2");
        expect(stale.standing.stale).toMatch(/^Last measured \d+ days ago\.$/);
        // At most 3 a week: the week that runs is not held against it.
        const weekly = await page("Hollis", "1");
        expect(weekly.criterion).toMatch(/^at most 3.times in four weeks in a row$/);
        expect(plain(weekly.standing.why)).toMatch(
          /weeks? (stayed at or below 3 times|so far)|No recent week stayed/,
        );
        expect(plain(weekly.says.rate ?? "")).not.toMatch(/Gaining|Rising/);
        expect(weekly.chart?.axisTitle).toBe("Times out of the seat per week");
        // A total that starts again each month: the last one fell short.
        const monthly = await page("Caspian", "3");
        expect(plain(monthly.running ?? undefined)).toMatch(
          /^\w+: [\d,]+ of 300 minutes, .*school days? left\. \w+: (1\d\d|2\d\d|\d\d) of 300 minutes\.$/,
        );
        expect(monthly.says.rate).toBeNull();
        // A median among refusals is none: those sessions do not meet, and stand at the upper edge.
        const latency = await page("Isaura", "3");
        const edges = latency.chart?.edges ?? [];
        expect(edges.length).toBeGreaterThan(0);
        expect(edges.every(({ at, label }) => at === "top" && label.endsWith("no response"))).toBe(true);
        expect(latency.says.cautions.join(" ")).toMatch(/\d+ of \d+ points in this phase gave no figure/);
        const soonDue = await page("Rafi", "1");
        expect(soonDue.says.outlook).toMatchObject({
          words: expect.stringMatching(
            /^If this continues, one session on .* would be at about \d\d%, (between \d\d and \d\d% in 8|above \d\d% in 9) of 10 cases; the chance that it reaches 75% is \d\d%\.$/,
          ) as unknown,
        });
      } finally {
        await db.close();
      }
    });
  },
);
