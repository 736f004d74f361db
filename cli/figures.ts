import { readFileSync } from "node:fs";
import { figuresProgress } from "./figures-progress.ts";
import { figuresScore } from "./figures-score.ts";
import { InputError } from "#server/imports/input-error.ts";

const verbs: Record<string, (text: string, options: { json: boolean }) => string> = {
  score: figuresScore,
  progress: figuresProgress,
};

function fail(message: string): never {
  process.stderr.write(`figures: ${message}\n`);
  process.exit(2);
}

const words = process.argv.slice(2).filter((word) => word !== "--json");
const [verb, file] = words;
const compute = verb && Object.hasOwn(verbs, verb) ? verbs[verb] : undefined;
if (!compute || !file || words.length > 2)
  fail(`usage: figures ${Object.keys(verbs).join("|")} FILE [--json] (FILE - reads standard input)`);

let text: string;
try {
  text = new TextDecoder("utf-8", { fatal: true }).decode(readFileSync(file === "-" ? 0 : file));
} catch (error) {
  fail(`${file}: ${error instanceof TypeError ? "is not UTF-8 text" : "cannot be read"}`);
}
try {
  process.stdout.write(compute(text, { json: process.argv.includes("--json") }));
} catch (error) {
  if (error instanceof InputError) fail(`${file}:${error.line}: ${error.message}`);
  throw error;
}
