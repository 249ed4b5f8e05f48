/** What became of remittance advices that were to be sent: how many, and who has no address. */
export function advicesSaid({ advices, without }: { advices: number; without: readonly string[] }) {
  const said =
    advices === 0
      ? "No advice was sent."
      : advices === 1
        ? "One advice goes out."
        : `${advices} advices go out.`;
  return without.length === 0
    ? said
    : `${said} Without an e-mail address: ${without.slice(0, 5).join(", ")}${
        without.length > 5 ? ` and ${without.length - 5} more` : ""
      }.`;
}
