import next from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";

const config = [
  {
    ignores: [
      "**/.next/**",
      "node_modules/**",
      "migrations/**",
      "next-env.d.ts",
      ".data/**",
      "coverage/**",
    ],
  },
  ...next,
  ...typescript,
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-unused-vars": [
        "error",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_" },
      ],
      // The virtual list and the entry grid read refs and set state in step with the browser on
      // purpose; each place says why.
      "react-hooks/incompatible-library": "off",
      // Prettier keeps code at 100; what it can't break must not grow past 120. Sentences and class
      // names are data; SQL is code, and is broken by hand.
      "max-len": [
        "error",
        {
          code: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignoreUrls: true,
        },
      ],
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "TaggedTemplateExpression[tag.name='sql'] > TemplateLiteral > TemplateElement[value.raw=/[^\\n]{121}/]",
          message: "A line of SQL is longer than 120 characters. Break it before a clause.",
        },
      ],
    },
  },
];

export default config;
