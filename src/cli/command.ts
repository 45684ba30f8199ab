import { Command, CommanderError, InvalidArgumentError, Option } from "commander";
import { UserError } from "../core/layout/user-error";
import type { AnyOperation } from "../core/operations/operation";
import { type OptionField, optionFields } from "../core/operations/option-fields";
import { OPERATIONS } from "../core/operations/registry";
import { type Asked, act, SCOPES } from "./act";
import { checkFile } from "./check-file";
import { replayFile } from "./replay-file";
import type { Terminal } from "./terminal";

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
function addOperation(root: Command, name: string, op: AnyOperation, terminal: Terminal): Command {
  const command = root.command(name).description(op.about).argument("<file>", "OBJ, GLB, glTF, PLY or STL file");
  if (op.needs) command.argument("<others...>", "files for the operation");
  if (op.kind === "measure" || op.kind === "select") command.option("--json", "print one JSON object");
  else if (op.kind === "edit")
    command.requiredOption("-o, --output <file>", "file to write; its ending chooses the format");
  else command.requiredOption("-o, --output <file>", "file to write");
  if (op.kind === "edit" && !op.needs)
    command.option("--with <files...>", "files whose parts are added before, to lie on one sheet");
  const fields = optionFields(op);
  for (const field of fields) command.addOption(optionOf(field));
  return command.action(async (...given: unknown[]) => {
    const flags = given.at(-2) as Record<string, unknown>;
    const options = Object.fromEntries(fields.flatMap(({ name: n }) => (n in flags ? [[n, flags[n]]] : [])));
    await act(op, given.slice(0, -2).flat() as string[], options, flags as Asked, terminal);
  });
}

/** Every operation by its id, with what it acts on. */
function addRun(root: Command, terminal: Terminal): void {
  const run = root
    .command("run")
    .description("Runs any operation: ./tavlin run OPERATION FILE -o OUT. See operations.");
  for (const op of OPERATIONS)
    addOperation(run, op.id, op, terminal)
      .option("--scope <words>", `what it acts on: ${SCOPES}; everything when not given`)
      .option("--set <name>", "UV set worked on; the first when not given");
}

/** Lists what there is to run. */
function listOperations(json: boolean, terminal: Terminal): void {
  const all = OPERATIONS.map((op) => ({
    id: op.id,
    kind: op.kind,
    stage: op.stage,
    acts: op.acts,
    title: op.title,
    about: op.about,
    options: optionFields(op),
  }));
  if (json) terminal.print(`${JSON.stringify(all, null, 1)}\n`);
  else for (const { id, kind, about } of all) terminal.print(`${id.padEnd(20)} ${kind.padEnd(8)} ${about}\n`);
}

/** @param end receives the exit code of a command that has one */
function program(terminal: Terminal, end: (code: number) => void): Command {
  const root = new Command("tavlin").description("A cutting table for UV layouts: cut seams, unfold, level and pack.");
  root.exitOverride().configureOutput({
    writeOut: terminal.print,
    writeErr: terminal.say,
    outputError: (text, write) => write(text.replace(/^error: /, "")),
  });
  for (const op of OPERATIONS) if (op.command) addOperation(root, op.command, op, terminal);
  addRun(root, terminal);
  root
    .command("operations")
    .description("Lists every operation there is, with its kind.")
    .option("--json", "with their options, as JSON")
    .action(({ json }: { json?: boolean }) => listOperations(json === true, terminal));
  root
    .command("check")
    .description("Tells what a layout falls short in; ends with 0 when it is well, with 3 when it is not.")
    .argument("<file>", "OBJ, GLB, glTF, PLY or STL file")
    .option("--rules <file>", "JSON file of limits to hold it against")
    .option("--json", "print one JSON object")
    .action(async (file: string, flags: { rules?: string; json?: boolean }) => {
      end(await checkFile(file, flags, terminal));
    });
  root
    .command("replay")
    .description("Does the steps of a history, as saved from History, on a file.")
    .argument("<history>", "JSON file of steps")
    .argument("<file>", "OBJ, GLB, glTF, PLY or STL file")
    .argument("[others...]", "files for the steps that bring one, in turn")
    .requiredOption("-o, --output <file>", "file to write; its ending chooses the format")
    .action((history: string, file: string, others: string[], { output }: { output: string }) =>
      replayFile([history, file, ...others], output, terminal),
    );
  // These two need nothing installed and so live in the entry itself; named here for the help.
  root
    .command("demo")
    .description("Installs, builds, fills an empty data folder with the night market, and serves it.");
  root
    .command("test")
    .description("Installs and runs every check: format, types, import rules, unit tests, build, browser tests.");
  return root;
}

/**
 * Runs one command line, such as ["pack", "crate.obj", "-o", "out.obj"].
 *
 * @returns the process's exit code: 0 when done, 1 for what is refused in a sentence, 2 for a fault of the program
 */
export async function runCommand(args: readonly string[], terminal: Terminal): Promise<number> {
  let code = 0;
  const end = (c: number): void => {
    code = c;
  };
  try {
    await program(terminal, end).parseAsync(args, { from: "user" });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode;
    if (error instanceof UserError) {
      terminal.say(`${error.message}\n`);
      return 1;
    }
    terminal.say(`Tavlin failed: ${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  }
}
