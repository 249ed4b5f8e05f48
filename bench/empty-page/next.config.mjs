import path from "node:path";

const root = path.resolve(import.meta.dirname, "..", "..");
export default { outputFileTracingRoot: root, turbopack: { root } };
