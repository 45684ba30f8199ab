import { lockFolder } from "../src/server/data-folder";

// Takes a data folder and tells whether that went well; the test starts several of it at once, and ends them.
try {
  lockFolder(process.argv[2]!);
  process.stdout.write("taken\n");
} catch {
  process.stdout.write("refused\n");
}
setInterval(() => {}, 1000);
