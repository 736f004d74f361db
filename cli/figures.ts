import { readFileSync } from "node:fs";
import { InputError } from "#core/files/input-error.ts";

type Compute = (text: string, options: { json: boolean }) => string;

/** Each verb loads what it needs and nothing else: the command starts in a moment. */
const verbs: Record<string, () => Promise<Compute>> = {
  score: async () => (await import("./figures-score.ts")).figuresScore,
  progress: async () => (await import("./figures-progress.ts")).figuresProgress,
  decide: async () => (await import("./figures-decide.ts")).figuresDecide,
  agreement: async () => (await import("./figures-agreement.ts")).figuresAgreement,
  incidents: async () => (await import("./figures-incidents.ts")).figuresIncidents,
  "read-goal": async () => (await import("./figures-read-goal.ts")).figuresReadGoal,
};

function fail(message: string): never {
  process.stderr.write(`figures: ${message}\n`);
  process.exit(2);
}

const words = process.argv.slice(2).filter((word) => word !== "--json");
const [verb, file] = words;
const load = verb && Object.hasOwn(verbs, verb) ? verbs[verb] : undefined;
if (!load || !file || words.length > 2)
  fail(`usage: figures ${Object.keys(verbs).join("|")} FILE [--json] (FILE - reads standard input)`);

let text: string;
try {
  text = new TextDecoder("utf-8", { fatal: true }).decode(readFileSync(file === "-" ? 0 : file));
} catch (error) {
  fail(`${file}: ${error instanceof TypeError ? "is not UTF-8 text" : "cannot be read"}`);
}
try {
  process.stdout.write((await load())(text, { json: process.argv.includes("--json") }));
} catch (error) {
  if (error instanceof InputError) fail(`${file}:${error.line}: ${error.message}`);
  throw error;
}
