/** What somebody has asked a second person to do with a deposit slip, with what it takes. */
export type SlipRequest =
  | { is: "cancel"; input: { id: number; reason: string } }
  | {
      is: "return";
      input: { id: number; no: number; date: string; reason: string; fee: string; kind: string };
    };
