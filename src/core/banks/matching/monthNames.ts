const LANGUAGES = ["en", "de", "fr", "es", "it", "nl", "pl", "pt"];

/** Names of months in the languages in which banks write, long and short, without accents. */
export const monthNames: ReadonlySet<string> = new Set(
  LANGUAGES.flatMap((language) =>
    (["long", "short"] as const).flatMap((month) => {
      const format = new Intl.DateTimeFormat(language, { month, timeZone: "UTC" });
      return Array.from({ length: 12 }, (_, n) =>
        format
          .format(Date.UTC(2026, n, 15))
          .normalize("NFD")
          .replace(/[^\p{L}]/gu, "")
          .toLowerCase(),
      );
    }),
  ),
);
