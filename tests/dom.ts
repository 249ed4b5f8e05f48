import { cleanup } from "@testing-library/react";
import { afterEach } from "vitest";

// A page without a layout: everything is as large as a screen, so that lists draw their rows.
for (const [name, size] of [
  ["clientHeight", 600],
  ["clientWidth", 1000],
] as const)
  Object.defineProperty(HTMLElement.prototype, name, { configurable: true, value: size });
window.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

afterEach(cleanup);
