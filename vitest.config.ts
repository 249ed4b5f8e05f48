import path from "node:path";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

const alias = { "@": path.resolve(import.meta.dirname, "src") };

/** Test files that take a minute or more though they are short, the longest first. */
const LONG = [
  "db/survival.test.ts",
  "v1/hostile.test.ts",
  "backups/backups.test.ts",
  "purchasing/life.test.ts",
  "outside/outside.test.ts",
  "statements/comingFiles.test.ts",
];

/** Begins with the files that take longest, so that no worker waits for another at the end. */
class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const place = ({ moduleId }: TestSpecification): number => {
      const at = LONG.findIndex((name) => moduleId.endsWith(name));
      return at === -1 ? LONG.length : at;
    };
    return (await super.sort(files)).sort((a, b) => place(a) - place(b));
  }
}

export default defineConfig({
  test: {
    sequence: { sequencer: LongestFirst },
    projects: [
      {
        resolve: { alias },
        test: {
          name: "unit",
          isolate: false,
          // A slow machine is no fault: what a test takes is not what it tests.
          testTimeout: 60_000,
          include: ["src/core/**/*.test.ts", "src/ui/**/*.test.ts", "tests/*.test.ts"],
        },
      },
      {
        resolve: { alias },
        test: {
          name: "components",
          testTimeout: 60_000,
          include: ["src/**/*.test.tsx"],
          environment: "jsdom",
          setupFiles: ["tests/dom.ts"],
        },
      },
      {
        resolve: { alias },
        test: {
          name: "server",
          // All files of a worker share what they import: reading it anew takes longer than they do.
          isolate: false,
          include: ["src/server/**/*.test.ts", "src/demo/**/*.test.ts", "src/app/**/*.test.ts"],
          // Reading files asks no database: once is enough.
          exclude: process.env.TEST_DATABASE === "server" ? ["src/server/files/**"] : [],
          globalSetup: ["tests/databases.ts"],
          setupFiles: ["tests/watchRows.ts"],
          // A slow machine is no fault: what takes longer here has stopped.
          testTimeout: 300_000,
          hookTimeout: 300_000,
        },
      },
      {
        resolve: { alias },
        test: {
          // What people do, one act after the other on one demo.
          name: "e2e",
          include: ["e2e/**/*.test.ts"],
          exclude: ["e2e/screens.test.ts", "e2e/days.test.ts", "e2e/receivables.test.ts"],
          globalSetup: ["e2e/serve.ts"],
          testTimeout: 400_000,
          hookTimeout: 400_000,
          fileParallelism: false,
        },
      },
      {
        resolve: { alias },
        test: {
          // Collecting, on a demo of its own: what banks bring would leave few reminders to send.
          name: "collecting",
          include: ["e2e/receivables.test.ts"],
          globalSetup: ["e2e/serve.ts"],
          testTimeout: 400_000,
          hookTimeout: 400_000,
        },
      },
      {
        resolve: { alias },
        test: {
          // Every page read once, and days that go on, on a demo of its own: both can run at once.
          name: "screens",
          include: ["e2e/screens.test.ts", "e2e/days.test.ts"],
          fileParallelism: false,
          globalSetup: ["e2e/serve.ts"],
          testTimeout: 400_000,
          hookTimeout: 400_000,
        },
      },
    ],
  },
});
