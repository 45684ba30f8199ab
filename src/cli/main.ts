import { Command, CommanderError, InvalidArgumentError, Option } from "commander";
import { UserError } from "../core/layout/user-error";
import type { AnyOperation } from "../core/operations/operation";
import { type OptionField, operationById, optionFields, parseOptions } from "../core/operations/registry";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { checkFile } from "./check-file";
import { contextFor } from "./context";
import { openFile, saveFile, writerFor } from "./files";
import { printFigures } from "./print-figures";

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

async function act(op: AnyOperation, file: string, flags: Record<string, unknown>): Promise<void> {
  const { output, json, ...raw } = flags as { output?: string; json?: boolean };
  const options = parseOptions(op, raw);
  if (output) writerFor(output);
  const asset = await openFile(file);
  const scope = everything(asset);
  const { context, pool } = contextFor(asset);
  if (op.kind === "measure") {
    const figures = await op.run(asset, scope, options, context);
    process.stdout.write(json ? `${JSON.stringify(figures)}\n` : printFigures(figures as Record<string, unknown>));
  } else if (op.kind === "export") {
    await saveFile(asset, output!, options);
  } else {
    const { asset: edited, result } = await runEdit(asset, op.id, options, scope, context);
    pool?.dispose();
    await saveFile(edited, output!);
    for (const note of result.notes) process.stderr.write(`${note.words}\n`);
    process.stderr.write(`${result.words}\n`);
  }
}

function program(): Command {
  const root = new Command("tavlin").description("A cutting table for UV layouts: cut seams, unfold, level and pack.");
  root.exitOverride().configureOutput({ outputError: (text, write) => write(text.replace(/^error: /, "")) });
  for (const [name, id] of Object.entries(COMMANDS)) {
    const op = operationById(id);
    const command = root.command(name).description(op.about).argument("<file>", "OBJ, GLB, glTF, PLY or STL file");
    if (op.kind === "measure") command.option("--json", "print one JSON object");
    else
      command.requiredOption(
        "-o, --output <file>",
        op.id === "sheet" ? "SVG file to write" : "file to write; its ending chooses the format",
      );
    for (const field of optionFields(op)) command.addOption(optionOf(field));
    command.action((file: string, flags: Record<string, unknown>) => act(op, file, flags));
  }
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
