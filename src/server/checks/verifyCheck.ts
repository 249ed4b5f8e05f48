import type { Db } from "../db";

/** What verification has looked at, and what it found. */
export interface Check {
  name: string;
  /** How much was looked at. */
  looked: number;
  /** What is wrong; nothing, where all is well. */
  faults: string[];
}

/** A part of the verification, as the area that knows about it defines it. Reads only. */
export type VerifyCheck = (tx: Db) => Promise<Check | Check[]>;

/** At most this many faults are named. */
export const NAMED = 20;
