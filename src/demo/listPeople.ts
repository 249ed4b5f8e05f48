import { DEMO_PASSWORD, DEMO_PEOPLE } from "./people";

for (const p of DEMO_PEOPLE) console.log(`  ${p.login.padEnd(12)} ${p.name.padEnd(20)} ${p.what}`);
console.log(`\n  Password of all: ${DEMO_PASSWORD}`);
