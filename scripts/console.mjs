let out = process.stdout;

/** Where steps are printed from now on. */
export function stepsTo(stream) {
  out = stream;
}

/** What a person sees while a script works: one line a step, its time when it took long enough to wonder about. */
export async function step(label, work) {
  const started = Date.now();
  out.write(`  ${label} …`);
  const interval = out.isTTY ? setInterval(() => out.write("."), 2000) : null;
  try {
    const result = await work();
    const seconds = (Date.now() - started) / 1000;
    out.write(seconds >= 1 ? ` done (${seconds.toFixed(1)} s)\n` : " done\n");
    return result;
  } catch (error) {
    out.write(" failed\n");
    throw error;
  } finally {
    if (interval) clearInterval(interval);
  }
}

/** An error whose message already says what to do: printed without a stack. */
export class SetupError extends Error {}

export function exitOnSetupError(error) {
  console.error(error instanceof SetupError ? `\n${error.message}\n` : error);
  process.exit(1);
}
