import { Dialog } from "~/app/components/dialog";

const shortcuts: [string, [string, string][]][] = [
  [
    "Everywhere in a study",
    [
      ["Ctrl K", "find a command"],
      ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
      ["?", "this list"],
      ["Page Up, Page Down", "previous or next row, in figure and stage"],
    ],
  ],
  [
    "In the figure",
    [
      ["arrows", "scene before, next scene"],
      ["Enter", "open the scene as a stage"],
      ["Ctrl arrow", "move the scene earlier or later"],
      ["Ctrl C, Ctrl V", "copy the scene; paste, also in another study"],
    ],
  ],
  [
    "On the stage",
    [
      [". and ,", "next item, item before"],
      ["arrows", "move by 1 unit; with Shift 5, with Ctrl 0.1"],
      ["R, Shift R", "turn by 15° to the right, to the left"],
      ["+ and −, F and B", "one step forward or back; to the front or back"],
      ["D, L, Delete", "duplicate, lock, remove"],
      ["Ctrl A, Ctrl C, Ctrl X, Ctrl V", "select all, copy, cut, paste"],
      ["Shift while dragging", "keeps the shape, turns in steps of 15°"],
      ["Ctrl while dragging", "does not snap"],
      ["Escape", "select nothing; then back to the figure"],
    ],
  ],
  [
    "In the table",
    [
      ["Enter or typing", "edit the cell"],
      ["Ctrl C, Ctrl V", "copy and paste, also with a spreadsheet program"],
      ["Escape", "leave the cell as it was"],
    ],
  ],
];

export const Shortcuts = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => (
  <Dialog wide open={open} onOpenChange={onOpenChange} title="Shortcuts">
    <div className="grid grid-cols-2 gap-x-8 gap-y-4">
      {shortcuts.map(([where, keys]) => (
        <section key={where}>
          <h3 className="pb-1 font-semibold">{where}</h3>
          <dl className="grid grid-cols-[150px_1fr] gap-y-1 text-sm">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-xs leading-5">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  </Dialog>
);
