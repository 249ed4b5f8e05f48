import { describe, expect, test } from "vitest";
import { isBackupDue } from "./index";

const plan = { on: true, hour: 2, keep: 14 };
const at = (text: string) => new Date(`${text}Z`);

describe("when a backup is due", () => {
  test.each([
    ["never made", null, "2026-11-03T01:00", 0, true],
    ["made since the hour came", "2026-11-03T02:05", "2026-11-03T23:00", 0, false],
    ["made before it, and it has come", "2026-11-03T01:59", "2026-11-03T02:00", 0, true],
    ["before the hour, yesterday's was made", "2026-11-02T02:10", "2026-11-03T01:59", 0, false],
    ["before the hour, yesterday's was missed", "2026-11-01T02:10", "2026-11-03T01:00", 0, true],
    ["over the end of a year", "2026-12-31T02:10", "2027-01-01T02:00", 0, true],
    ["two in the morning two hours east", "2026-11-02T00:10", "2026-11-03T00:00", 120, true],
    ["five hours west it is still yesterday", "2026-11-02T07:10", "2026-11-03T06:59", -300, false],
    ["a clock that went back", "2026-11-04T02:10", "2026-11-03T02:10", 0, false],
  ])("%s", (_name, last, now, offset, due) =>
    expect(isBackupDue(plan, last === null ? null : at(last), at(now), offset)).toBe(due),
  );

  test("none where they are switched off", () =>
    expect(isBackupDue({ ...plan, on: false }, null, at("2026-11-03T02:00"), 0)).toBe(false));
});
