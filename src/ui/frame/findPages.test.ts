import { expect, test } from "vitest";
import { findPages } from "./findPages";
import { PAGES } from "./pages";

test("each page is the first that its own name finds", () => {
  expect(PAGES.filter((p) => findPages(PAGES, p.name)[0] !== p).map((p) => p.name)).toEqual([]);
});

test("the beginning comes before a word, a word before what lies inside, other words last", () => {
  const page = (name: string, words = "") => ({ name, words });
  const pages = [
    page("Ageing", "rates of interest"),
    page("Integrated"),
    page("Tax rates"),
    page("Rates of exchange"),
    page("Rates"),
  ];
  expect(findPages(pages, " RATE").map((p) => p.name)).toEqual([
    "Rates of exchange",
    "Rates",
    "Tax rates",
    "Integrated",
    "Ageing",
  ]);
  expect(findPages(pages, "rates")[0]!.name).toBe("Rates");
  expect(findPages(pages, "grat").map((p) => p.name)).toEqual(["Integrated"]);
  expect(findPages(pages, "nothing")).toEqual([]);
  expect(findPages(pages, "  ")).toEqual(pages);
});
