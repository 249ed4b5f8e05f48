import { attackMachine, type MachineOptions } from "./machine";
import { prepare, withdraw } from "./people";
import type { Outcome } from "./report";
import { attackRights } from "./rights";
import { attackSecondPerson } from "./secondPerson";
import { attackAsStranger, attackSignIn } from "./strangers";

export interface Target extends MachineOptions {
  base: string;
  password: string;
  own: string;
  other: string;
}

/** Everything that is tried against a running demo, one after the other. */
export async function attack(target: Target): Promise<Outcome[]> {
  const scene = await prepare(target.base, target);
  try {
    return [
      ...(await attackRights(scene)),
      ...(await attackSecondPerson(scene)),
      ...(await attackAsStranger(scene)),
      ...(await attackMachine(scene, target)),
      ...(await attackSignIn(scene, target.patient)),
    ];
  } finally {
    await withdraw(scene);
  }
}
