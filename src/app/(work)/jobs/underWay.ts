export const isUnderWay = ({ state }: { state: string }): boolean =>
  state === "waiting" || state === "running";
