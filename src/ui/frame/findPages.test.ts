import { expect, test } from "vitest";
import { findPages } from "./findPages";
import { AREA_ENTRIES } from "./areas";
import { areaOf, pageOf, PAGES } from "./pages";

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

test("a page of an area stands in it wherever its address begins; what lies below a page belongs to it", () => {
  const codes = AREA_ENTRIES.map((a) => a.code);
  for (const page of PAGES.filter((p) => p.in)) {
    expect([areaOf(page.href), pageOf(page.href)?.name]).toEqual([page.in, page.name]);
    expect(codes).toContain(page.in);
  }
  expect(areaOf("/jobs")).toBe("close");
  expect(pageOf("/payables/invoices/12")?.name).toBe("Supplier invoices");
  expect(areaOf("/payables/payments/runs/12")).toBe("payables");
  expect(pageOf("/payables/payments/run")?.name).toBe("Payment register");
  expect(pageOf("/payables/supplierless")?.name).toBe("Payables ageing");
  expect([areaOf("/documents/7"), pageOf("/documents/7")]).toEqual(["documents", undefined]);
});
