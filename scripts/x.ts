import { openDatabase } from "@/server/db"; import { seed } from "@/demo/seed"; import { rmSync } from "node:fs"; import { verify } from "@/server/ledger";
rmSync("/tmp/demo",{recursive:true,force:true});
const t=Date.now(); const d = await openDatabase({folder:"/tmp/demo"}); await seed(d, (l)=>console.log(((Date.now()-t)/1000).toFixed(1), l));
console.log("seeded", (Date.now()-t)/1000); const t2=Date.now(); console.log((await verify(d.db)).map(c=>[c.name,c.looked,c.faults.slice(0,3)]), Date.now()-t2); await d.close();
