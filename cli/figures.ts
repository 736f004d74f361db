import { readFileSync } from "node:fs";
import { InputError } from "#core/files/input-error.ts";

type Compute = (text: string, options: { json: boolean; file?: string }) => string;

/** Each verb loads what it needs and nothing else: the command starts in a moment. */
const verbs: Record<string, () => Promise<Compute>> = {
  score: async () => (await import("./figures-score.ts")).figuresScore,
  progress: async () => (await import("./figures-progress.ts")).figuresProgress,
  decide: async () => (await import("./figures-decide.ts")).figuresDecide,
  agreement: async () => (await import("./figures-agreement.ts")).figuresAgreement,
  incidents: async () => (await import("./figures-incidents.ts")).figuresIncidents,
  findings: async () => (await import("./figures-findings.ts")).figuresFindings,
  "read-goal": async () => (await import("./figures-read-goal.ts")).figuresReadGoal,
};

function fail(message: string): never {
  process.stderr.write(`figures: ${message}\n`);
  process.exit(2);
}

/** Verbs that take several files: then each is one line, or one part, and says which file it is of. */
const several = ["findings"];

const words = process.argv.slice(2).filter((word) => word !== "--json");
const [verb, ...files] = words;
const load = verb && Object.hasOwn(verbs, verb) ? verbs[verb] : undefined;
if (!load || files.length === 0 || (files.length > 1 && !several.includes(verb ?? "")))
  fail(`usage: figures ${Object.keys(verbs).join("|")} FILE [--json] (FILE - reads standard input)`);

function read(file: string): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(readFileSync(file === "-" ? 0 : file));
  } catch (error) {
    fail(`${file}: ${error instanceof TypeError ? "is not UTF-8 text" : "cannot be read"}`);
  }
}

const compute = await load();
const json = process.argv.includes("--json");
// Nothing is printed before every file was computed.
const made = files.map((file) => {
  try {
    return compute(read(file), { json, ...(files.length > 1 ? { file } : {}) });
  } catch (error) {
    if (error instanceof InputError) fail(`${file}:${error.line}: ${error.message}`);
    throw error;
  }
});
process.stdout.write(made.join(""));
