import { Command, CommanderError, InvalidArgumentError, Option } from "commander";
import { UserError } from "../core/layout/user-error";
import type { AnyOperation } from "../core/operations/operation";
import { OPERATIONS, type OptionField, operationById, optionFields } from "../core/operations/registry";
import { type Asked, act, SCOPES } from "./act";
import { checkFile } from "./check-file";

/** Commands and the operations behind them. */
const COMMANDS: Record<string, string> = {
  measure: "measure",
  unfold: "unfold",
  pack: "pack",
  make: "draft",
  sheet: "sheet",
};

const dashed = (name: string) => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

function optionOf(field: OptionField): Option {
  const unit = field.unit ? ` (${field.unit})` : "";
  const flag =
    field.kind === "boolean"
      ? `--${dashed(field.name)}`
      : `--${dashed(field.name)} <${field.kind === "number" ? "n" : "kind"}>`;
  const option = new Option(field.initial === true ? flag.replace("--", "--no-") : flag, `${field.description}${unit}`);
  if (field.kind === "choice") option.choices((field.choices ?? []).map(String));
  if (field.kind === "number")
    option.argParser((text) => {
      const value = Number(text);
      if (text.trim() === "" || !Number.isFinite(value)) throw new InvalidArgumentError("It must be a number.");
      return value;
    });
  if (field.initial !== undefined && field.initial !== false) option.default(field.initial);
  return option;
}

/** Makes a command of an operation, under a name. */
function addOperation(root: Command, name: string, op: AnyOperation): Command {
  const command = root.command(name).description(op.about).argument("<file>", "OBJ, GLB, glTF, PLY or STL file");
  if (op.needs) command.argument("<others...>", "files it is brought");
  if (op.kind === "measure" || op.kind === "select") command.option("--json", "print one JSON object");
  else if (op.kind === "edit")
    command.requiredOption("-o, --output <file>", "file to write; its ending chooses the format");
  else command.requiredOption("-o, --output <file>", "file to write");
  const fields = optionFields(op);
  for (const field of fields) command.addOption(optionOf(field));
  return command.action(async (...given: unknown[]) => {
    const flags = given.at(-2) as Record<string, unknown>;
    const options = Object.fromEntries(fields.flatMap(({ name: n }) => (n in flags ? [[n, flags[n]]] : [])));
    await act(op, given.slice(0, -2).flat() as string[], options, flags as Asked);
  });
}

/** Every operation by its id, with what it acts on. */
function addRun(root: Command): void {
  const run = root
    .command("run")
    .description("Runs any operation: ./tavlin run OPERATION FILE -o OUT. See operations.");
  for (const op of OPERATIONS)
    addOperation(run, op.id, op)
      .option("--scope <words>", `what it acts on: ${SCOPES}; everything when not given`)
      .option("--set <name>", "UV set worked on; the first when not given");
}

/** Lists what there is to run. */
function listOperations({ json }: { json?: boolean }): void {
  const all = OPERATIONS.map((op) => ({
    id: op.id,
    kind: op.kind,
    stage: op.stage,
    acts: op.acts,
    title: op.title,
    about: op.about,
    options: optionFields(op),
  }));
  if (json) process.stdout.write(`${JSON.stringify(all, null, 1)}\n`);
  else for (const { id, kind, about } of all) process.stdout.write(`${id.padEnd(20)} ${kind.padEnd(8)} ${about}\n`);
}

function program(): Command {
  const root = new Command("tavlin").description("A cutting table for UV layouts: cut seams, unfold, level and pack.");
  root.exitOverride().configureOutput({ outputError: (text, write) => write(text.replace(/^error: /, "")) });
  for (const [name, id] of Object.entries(COMMANDS)) addOperation(root, name, operationById(id));
  addRun(root);
  root
    .command("operations")
    .description("Lists every operation there is, with its kind.")
    .option("--json", "with their options, as JSON")
    .action(listOperations);
  root
    .command("check")
    .description("Tells what a layout falls short in; ends with 0 when it is well, with 3 when it is not.")
    .argument("<file>", "OBJ, GLB, glTF, PLY or STL file")
    .option("--rules <file>", "JSON file of limits to hold it against")
    .option("--json", "print one JSON object")
    .action(async (file: string, flags: { rules?: string; json?: boolean }) => {
      process.exitCode = await checkFile(file, flags);
    });
  // These two need nothing installed and so live in the entry itself; named here for the help.
  root
    .command("demo")
    .description("Installs, builds, fills an empty data folder with the night market, and serves it.");
  root
    .command("test")
    .description("Installs and runs every check: format, types, import rules, unit tests, build, browser tests.");
  return root;
}

// Whoever reads what is printed may stop reading it (head, a pager that was left).
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EPIPE") throw error;
  process.exit();
});

try {
  await program().parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode;
  else if (error instanceof UserError) {
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 1;
  } else {
    process.stderr.write(`Tavlin failed: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = 2;
  }
}
