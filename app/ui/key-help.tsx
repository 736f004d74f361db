import { SheetDialog } from "./sheet.tsx";

const keys: [keys: string[], does: string][] = [
  [["Ctrl/⌘", "K"], "Find a student, a goal or an action"],
  [["g", "c"], "Caseload"],
  [["g", "t"], "Today: what is due"],
  [["s"], "Start a sitting"],
  [["i"], "Record an incident"],
  [["r"], "Record the open goal"],
  [["1", "…", "9"], "In a sitting: mark; 1 is correct, or the first level"],
  [["0"], "In a sitting: not yet, an error, no response"],
  [["space"], "In a sitting: start or stop the clock"],
  [["u"], "In a sitting: undo the last mark"],
  [["→"], "In a sitting: the next goal or student"],
  [["n"], "In a sitting: write a note"],
  [["?"], "This list"],
];

export default function KeyHelp({ onClose }: { onClose: () => void }) {
  return (
    <SheetDialog label="Keys" onClose={onClose}>
      <div className="p-6">
        <div className="mb-3 flex items-center justify-between">
          <h2 className="font-serif text-xl font-semibold">Keys</h2>
          <button type="button" className="btn btn-plain btn-sm" onClick={onClose}>
            Close
          </button>
        </div>
        <dl className="grid grid-cols-[8rem_1fr] gap-y-2.5">
          {keys.map(([chord, does]) => (
            <div key={does} className="contents">
              <dt className="flex gap-1">
                {chord.map((key) => (
                  <kbd key={key} className="kbd kbd-sm">
                    {key}
                  </kbd>
                ))}
              </dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
        <p className="mt-4 text-fine text-soft">Single letters never fire while you type.</p>
      </div>
    </SheetDialog>
  );
}
