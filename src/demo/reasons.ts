import type { ReasonPlace } from "@/core/documents";

/** Reasons that the ferries' people give, where they take something back. */
export const demoReasons: readonly { text: string; places: ReasonPlace[] }[] = [
  { text: "Paid twice", places: ["payments", "cheques"] },
  { text: "The supplier's account was not right", places: ["payments"] },
  { text: "Lost in the post", places: ["cheques"] },
  { text: "Cheque not covered", places: ["deposits"] },
  { text: "Entered for the wrong company", places: ["invoices", "deposits"] },
  { text: "Wrong day", places: ["runs"] },
  { text: "Bank charge kept by their bank", places: ["writeOffs"] },
  { text: "Too small to ask for", places: ["writeOffs"] },
  { text: "Read with the wrong sign", places: ["statements"] },
];
