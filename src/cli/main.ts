import { runCommand } from "./command";

// Whoever reads what is printed may stop reading it (head, a pager that was left).
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EPIPE") throw error;
  process.exit();
});

process.exitCode = await runCommand(process.argv.slice(2), {
  print: (text) => void process.stdout.write(text),
  say: (text) => void process.stderr.write(text),
});
