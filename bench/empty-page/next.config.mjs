import path from "node:path";

const root = path.resolve(import.meta.dirname, "..", "..");
const config = { outputFileTracingRoot: root, turbopack: { root } };
export default config;
