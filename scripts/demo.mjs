// One command on a fresh machine: install, build, seed, serve the demo.
import {
  build,
  fail,
  fromSources,
  install,
  options,
  path,
  root,
  serve,
  spawnSync,
} from "./lib.mjs";

const { port = "3000", data = ".data/demo", fresh } = options(process.argv.slice(2), ["fresh"]);
if (!/^\d{2,5}$/.test(port)) fail(`--port takes a number, not ${port}.`);
const folder = path.resolve(root, data);
install();
build();
const env = { ...process.env };
delete env.DATABASE_URL;
const seeded = spawnSync(
  process.execPath,
  [fromSources, "src/demo/main.ts", folder, ...(fresh ? ["--fresh"] : [])],
  { cwd: root, stdio: ["ignore", "inherit", "inherit"], env },
);
if (seeded.status !== 0) process.exit(seeded.status ?? 1);
await serve({ port, data: folder });
const people = spawnSync(process.execPath, [fromSources, "src/demo/listPeople.ts"], {
  cwd: root,
  encoding: "utf8",
}).stdout;
console.log(
  `\nYellow Anchor, the demo: http://127.0.0.1:${port}\n\n${people}\nStop with Ctrl C. The data stays in ${path.relative(process.cwd(), folder) || folder}.\n`,
);
