import type { NextConfig } from "next";

const config: NextConfig = {
  poweredByHeader: false,
  // Types are checked by the build, unless that was done a moment ago.
  typescript: { ignoreBuildErrors: process.env.TYPES_CHECKED === "1" },
  // Native or self-contained packages that a bundler must leave alone.
  serverExternalPackages: [
    "@electric-sql/pglite",
    "@node-rs/argon2",
    "pg",
    "pdfkit",
    "exceljs",
    "pino",
  ],
  outputFileTracingRoot: import.meta.dirname,
  // Drafts, papers and files have addresses of their own, which ask for the right first.
  experimental: { serverActions: { bodySizeLimit: "2mb" } },
  headers: async () => [
    {
      source: "/:path*",
      headers: [
        { key: "X-Content-Type-Options", value: "nosniff" },
        { key: "X-Frame-Options", value: "DENY" },
        { key: "Referrer-Policy", value: "same-origin" },
        { key: "Permissions-Policy", value: "camera=(), microphone=(), geolocation=()" },
        { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
      ],
    },
    // Files are files: whatever stands in one, it is no page of ours.
    ...["/attachments/:path*", "/export/:path*"].map((source) => ({
      source,
      headers: [{ key: "Content-Security-Policy", value: "sandbox; default-src 'none'" }],
    })),
  ],
};

export default config;
