// An installation of one's own: an empty one begins with the first-use page.
import { build, install, options, path, root, serve } from "./lib.mjs";

const {
  port = "3000",
  data = process.env.YELLOW_ANCHOR_DATA ?? ".data/main",
  host = "127.0.0.1",
} = options(process.argv.slice(2));
install();
build();
const url = process.env.DATABASE_URL;
await serve({ port, host, ...(url ? { url } : { data: path.resolve(root, data) }) });
console.log(`Yellow Anchor: http://${host}:${port}`);
