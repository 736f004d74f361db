/**
 * Set-up of the tests at the database: a deprecated use fails them. `pg` deprecates a query on a client that is still busy with another,
 * which inside a transaction is always a mistake of ours.
 */
const guard = (warning: Error) => {
  if (warning.name === "DeprecationWarning") throw warning;
};
// Files share one process: it is set up once.
if (!process.listeners("warning").some((listener) => listener.name === guard.name))
  process.on("warning", guard);
