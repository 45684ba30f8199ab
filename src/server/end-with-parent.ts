/** The server ends with the program that started it, and leaves the data folder to the next. */
export function endWithParent(): void {
  const parent = Number(process.env.TAVLIN_PARENT);
  if (!parent) return;
  setInterval(() => {
    try {
      process.kill(parent, 0);
    } catch {
      process.exit(0);
    }
  }, 1000).unref();
}
