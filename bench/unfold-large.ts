import { execFileSync } from "node:child_process";
import { unfoldShell } from "../src/core/unfold/unfold-shell";
import { energyOf, FORMS, sheet } from "./forms";

// One shell of a million triangles with the least stretch, each form in a process of its own: seconds, and the most memory
// that the process had. TAVLIN_BENCH_TRIANGLES names another size.

const SIZE = Number(process.env.TAVLIN_BENCH_TRIANGLES ?? 1_000_000);
const [form] = process.argv.slice(2);

if (form) {
  const shell = sheet(SIZE, FORMS[form]!);
  const from = performance.now();
  const result = unfoldShell(shell, { passes: 20 });
  const seconds = (performance.now() - from) / 1000;
  const { maxRSS } = process.resourceUsage();
  const judged = result.ok ? energyOf(shell, result.uv) : null;
  const row = {
    seconds: seconds.toFixed(1),
    "MB at most": (maxRSS / 1024).toFixed(0),
    energy: judged?.energy.toFixed(4),
    flips: judged?.flips,
  };
  process.stdout.write(JSON.stringify(row));
} else {
  const own = [...process.execArgv, process.argv[1]!];
  const rows = Object.keys(FORMS).map((name) => [
    name,
    JSON.parse(execFileSync(process.execPath, [...own, name]).toString()),
  ]);
  console.log(`${SIZE.toLocaleString("en")} triangles in one shell`);
  console.table(Object.fromEntries(rows));
}
