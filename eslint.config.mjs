import next from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";

const config = [
  { ignores: ["**/.next/**", "node_modules/**", "migrations/**", "next-env.d.ts", ".data/**", "coverage/**"] },
  ...next,
  ...typescript,
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      // The virtual list and the entry grid read refs and set state in step with the browser on purpose; each place says why.
      "react-hooks/incompatible-library": "off",
    },
  },
];

export default config;
