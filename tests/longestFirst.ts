import { BaseSequencer, type TestSpecification } from "vitest/node";

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
export class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const place = ({ moduleId }: TestSpecification): number => {
      const at = LONG.findIndex((name) => moduleId.endsWith(name));
      return at === -1 ? LONG.length : at;
    };
    return (await super.sort(files)).sort((a, b) => place(a) - place(b));
  }
}
