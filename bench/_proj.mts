const { runEdit } = await import("../src/core/operations/run.ts"); const { everything } = await import("../src/core/operations/scope.ts");
const { shapesOf } = await import("../src/core/layout/asset.ts");
const DEMO: any = { mill: ["pepper-mill","pepperMill"], lantern: ["paper-lantern","paperLantern"], balance: ["brass-balance","brassBalance"], cart: ["market-cart","marketCart"], ginger: ["ginger-root","gingerRoot", 0.16] };
for (const n of process.argv.slice(2)) {
  const m = await import(`../demo/models/${DEMO[n][0]}.ts`); const asset = m[DEMO[n][1]](...DEMO[n].slice(2));
  const done = new Set();
  for (const p of asset.parts) { if (done.has(p.shape)) continue; done.add(p.shape);
    const t = performance.now();
    try { const r = await runEdit(asset, "project", {}, { ...everything(asset), picked: [p.id] }, { progress() {} }); console.log(n, p.name, "|", r.result.words, (performance.now() - t).toFixed(0), "ms"); } catch (e: any) { console.log(n, p.name, "ERR", e.message, e.stack?.split("\n")[1]); }
  }
}
