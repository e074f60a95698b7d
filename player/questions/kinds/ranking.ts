import type { Id } from "~/core/values/ref";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { group, setAll } from "../elements";
import { inOrder } from "../options";

export const draw: QuestionDrawer<"ranking"> = (asking) => {
  const { question, order, value, answer } = asking;
  const offered = inOrder(question, order);
  let ranked: Id[] = value?.ranked ?? offered.map(({ id }) => id);
  const element = group(asking, "group", "ranking");
  const list = make("ol", "");
  const rows = new Map<Id, HTMLElement>();
  for (const { id, label } of offered) {
    const row = make("li", "");
    row.dataset.option = id;
    const handle = setAll(make("span", "handle", "⋮⋮"), { "aria-hidden": "true" });
    const place = make("span", "place");
    const move = (by: 1 | -1, name: "moveUp" | "moveDown", sign: string) => {
      const button = setAll(make("button", "second step", sign), {
        type: "button",
        "aria-label": words(name, { what: label }),
      });
      button.addEventListener("click", () => {
        const at = ranked.indexOf(id);
        moveTo(id, at + by);
        button.focus();
      });
      return button;
    };
    row.append(handle, place, make("span", "says", label), move(-1, "moveUp", "↑"), move(1, "moveDown", "↓"));
    dragging(
      row,
      handle,
      () => rows,
      () => ranked,
      (at) => moveTo(id, at),
    );
    rows.set(id, row);
  }
  const accept = setAll(make("button", "second accept", words("asItStands")), { type: "button" });
  accept.addEventListener("click", () => tell());
  const told = setAll(make("p", "told"), { role: "status" });
  const show = () => {
    const all = ranked.length;
    list.append(...ranked.flatMap((id) => rows.get(id) ?? []));
    ranked.forEach((id, at) => {
      const row = rows.get(id);
      if (!row) return;
      (row.querySelector(".place") as HTMLElement).textContent = String(at + 1);
      row.setAttribute("aria-label", words("rankPlace", { place: at + 1, all }));
    });
  };
  const tell = () => {
    element.classList.add("ranked");
    accept.hidden = true;
    answer({ ranked: [...ranked] });
    // Fields tell by themselves that they were changed; a list that is moved does not.
    element.dispatchEvent(new Event("change", { bubbles: true }));
  };
  function moveTo(id: Id, at: number) {
    const to = Math.max(0, Math.min(ranked.length - 1, at));
    ranked = ranked.filter((each) => each !== id);
    ranked.splice(to, 0, id);
    show();
    told.textContent = words("rankPlace", { place: to + 1, all: ranked.length });
    tell();
  }
  show();
  accept.hidden = value !== null;
  element.classList.toggle("ranked", value !== null);
  element.append(list, accept, told);
  return {
    element,
    focus: () => list.querySelector("button")?.focus(),
    clear: () => {
      element.classList.remove("ranked");
      accept.hidden = false;
      ranked = offered.map(({ id }) => id);
      show();
    },
  };
};

/** Moves a row while it is dragged by its handle, by mouse, finger or pen. */
function dragging(
  row: HTMLElement,
  handle: HTMLElement,
  rows: () => Map<Id, HTMLElement>,
  ranked: () => Id[],
  moveTo: (at: number) => void,
): void {
  handle.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    handle.setPointerCapture(event.pointerId);
    row.classList.add("dragged");
    const move = ({ clientY }: PointerEvent) => {
      const boxes = ranked().map((id) => rows().get(id)?.getBoundingClientRect());
      const at = boxes.findIndex((box) => box !== undefined && clientY < box.top + box.height / 2);
      const here = ranked().indexOf(row.dataset.option ?? "");
      const to = at < 0 ? boxes.length - 1 : at > here ? at - 1 : at;
      if (to !== here) moveTo(to);
    };
    const end = () => {
      row.classList.remove("dragged");
      handle.removeEventListener("pointermove", move);
    };
    handle.addEventListener("pointermove", move);
    handle.addEventListener("pointerup", end, { once: true });
    handle.addEventListener("pointercancel", end, { once: true });
  });
}
