import { expect, test } from "vitest";
import { attachmentType, safeName } from "./index";

const bytes = (...start: number[]) => Uint8Array.from([...start, 1, 2, 3]);
test.each([
  ["invoice.pdf", bytes(0x25, 0x50, 0x44, 0x46), "application/pdf"],
  ["pier.JPG", bytes(0xff, 0xd8, 0xff), "image/jpeg"],
  ["rows.csv", new TextEncoder().encode("a;b\n1;2"), "text/plain"],
  ["invoice.pdf", bytes(0x4d, 0x5a), null],
  ["page.html", new TextEncoder().encode("<script>"), null],
  ["run.exe", bytes(0x4d, 0x5a), null],
  ["picture.svg", new TextEncoder().encode("<svg/>"), null],
  ["x.csv", bytes(0xff, 0xfe, 0x00), null],
  ["noending", bytes(0x25, 0x50, 0x44, 0x46), null],
])("%s is taken for what it is", (name, content, type) =>
  expect(attachmentType(name, content)).toBe(type),
);

test("a name brings no folder and no header along", () => {
  expect(safeName("..\\..\\etc/pass wd\r\nX: y.pdf")).toBe("pass wd__X_ y.pdf");
  expect(safeName("")).toBe("paper");
});
