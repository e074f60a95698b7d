import { History as HistoryIcon, Redo2, Search, Undo2, Users } from "lucide-react";
import { useEffect, useLayoutEffect, useMemo, useState } from "react";
import { NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { buttonClass, IconButton } from "~/app/components/button";
import { Strip } from "~/app/components/strip";
import { Background } from "~/app/editing/background";
import { CommandPalette } from "~/app/editing/commands";
import { openEditStore } from "~/app/editing/edit-store";
import { PoolsDialog } from "~/app/pools/pools-dialog";
import { ValuesDialog } from "~/app/editing/values-dialog";
import { Shortcuts } from "~/app/editing/shortcuts";
import { History } from "~/app/editing/history";
import { SaveNote } from "~/app/editing/save-note";
import { StudyEditor } from "~/app/editing/study-editor";
import { StudyContext, useStudy, type View } from "~/app/editing/use-study";
import { MediaLibrary } from "~/app/media/media-library";
import { RibbonBar } from "~/app/ribbon/ribbon-bar";
import { ribbonColumns } from "~/core/compile/ribbon";
import { blocksInOrder } from "~/core/design/lookup";
import { Together } from "~/app/people/together";
import { rolesInWords } from "~/core/rights/rights";
import { setTitle } from "~/core/design/edits/study";
import { StudyFonts } from "~/app/editing/study-fonts";
import { measuredMinutes } from "~/server/progress";
import type { Route } from "./+types/study";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "open-study");
  const { id, code, document, revision, editedAt, roles, isGuest = false } = study;
  // How long people took comes of data, which a guest is never shown.
  const measured = isGuest ? {} : await measuredMinutes(context.store, id);
  return { code, document, revision, editedAt, roles, isGuest, measured };
}

/** The document lives in this window's editor once it is loaded; edits are saved by it, not by loading again. */
export const shouldRevalidate = ({
  currentParams,
  nextParams,
}: {
  currentParams: { code?: string };
  nextParams: { code?: string };
}) => currentParams.code !== nextParams.code;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.document.title ?? "Study"} · Lapwing` },
];

/** The sections of a study, each with the right that opens it. */
const sections = [
  ["plan", "see-design"],
  ["compose", "see-design"],
  ["rehearse", "rehearse"],
  ["collect", "see-sessions"],
  ["results", "see-results"],
] as const;
const designing = new Set(["plan", "compose", "rehearse"]);

export default function StudyLayout({ loaderData }: Route.ComponentProps) {
  return <StudyWindow key={loaderData.code} {...loaderData} />;
}

function StudyWindow({
  code,
  document,
  revision,
  editedAt,
  roles,
  isGuest,
  measured,
}: Route.ComponentProps["loaderData"]) {
  const [editor] = useState(() => new StudyEditor(code, document, revision, editedAt));
  const [view, setView] = useState<View>(() => {
    const [color = null, height = null] = ribbonColumns(document);
    const block = blocksInOrder(document).find(({ practice }) => !practice) ?? blocksInOrder(document)[0];
    return {
      participant: 1,
      part: block?.id ?? null,
      trial: null,
      row: null,
      selected: { kind: "nothing" },
      color,
      height,
      opened: null,
      below: "table",
      screen: "16:10",
      rings: false,
      asked: null,
      pool: null,
    };
  });
  const [background] = useState(() => new Background());
  useLayoutEffect(() => background.start(), [background]);
  const study = useMemo(
    () => ({ code, roles, isGuest, editor, background, measured, view, setView }),
    [code, roles, isGuest, editor, background, measured, view],
  );
  const section = useLocation().pathname.split("/")[3] ?? "plan";

  useEffect(() => {
    const leaving = (event: BeforeUnloadEvent) => {
      if (editor.wouldLose) event.preventDefault();
    };
    const keys = (event: KeyboardEvent) => {
      const isField =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [contenteditable]");
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        return setView((before) => ({ ...before, asked: before.asked === "commands" ? null : "commands" }));
      }
      if (event.key === "?" && !isField) return setView((before) => ({ ...before, asked: "shortcuts" }));
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || isField) return;
      event.preventDefault();
      if (event.shiftKey) editor.redo();
      else editor.undo();
    };
    addEventListener("beforeunload", leaving);
    addEventListener("keydown", keys);
    const opening = openEditStore(code);
    void editor.recall(opening).catch(() => undefined);
    const stopWatching = editor.watch();
    return () => {
      stopWatching();
      removeEventListener("beforeunload", leaving);
      removeEventListener("keydown", keys);
      void editor.saveNow().finally(() => void opening.then((store) => store.close()).catch(() => undefined));
    };
  }, [editor, code]);

  return (
    <StudyContext value={study}>
      <StudyFonts />
      <div className="flex h-dvh flex-col overflow-hidden small:h-auto small:min-h-dvh small:overflow-visible print:block print:h-auto print:overflow-visible">
        <StudyStrip />
        <main className="min-h-0 flex-1 small:shrink-0">
          <Outlet />
        </main>
        {designing.has(section) && <RibbonBar />}
      </div>
    </StudyContext>
  );
}

function StudyStrip() {
  const { code, document, editor, canUndo, canRedo, edit, look, view, may, roles, isGuest } = useStudy();
  const [mayEdit, maySee] = [may("change-design"), may("see-design")];
  const navigate = useNavigate();
  // A session is opened out of Collect.
  const isSession = useLocation().pathname.split("/")[3] === "sessions";
  return (
    <Strip
      beside={
        <>
          <input
            aria-label="Title of the study"
            value={document.title}
            maxLength={200}
            readOnly={!mayEdit}
            spellCheck={false}
            onChange={(event) => event.target.value.trim() && edit(setTitle(event.target.value), "title")}
            className="min-w-0 max-w-[300px] rounded-[4px] small:max-w-full bg-transparent font-serif text-[18px] [field-sizing:content] text-ellipsis"
          />
          <span className="font-mono text-xs whitespace-nowrap text-muted narrow:hidden">{code}</span>
        </>
      }
      middle={
        <nav aria-label="Sections of the study" className="flex flex-wrap gap-1">
          {sections
            .flatMap(([section, right]) => (may(right) ? [section] : []))
            .map((section) => (
              <NavLink
                key={section}
                to={`/studies/${code}/${section}`}
                className={({ isActive }) =>
                  `rounded-md px-2.5 py-1 text-sm capitalize ${isActive || (isSession && section === "collect") ? "bg-plumage-tint font-bold text-plumage" : "text-muted hover:text-ink"}`
                }
              >
                {section}
              </NavLink>
            ))}
        </nav>
      }
    >
      {mayEdit ? (
        <>
          <SaveNote />
          <IconButton icon={Undo2} label="Undo (Ctrl Z)" disabled={!canUndo} onClick={() => editor.undo()} />
          <IconButton icon={Redo2} label="Redo (Ctrl Shift Z)" disabled={!canRedo} onClick={() => editor.redo()} />
        </>
      ) : (
        <span className="whitespace-nowrap text-sm text-muted">
          {isGuest ? "You read this design" : `You are ${rolesInWords(roles)}`}
        </span>
      )}
      {maySee && <IconButton icon={HistoryIcon} label="History" onClick={() => look({ asked: "history" })} />}
      {!isGuest && (
        <>
          {maySee && <Together />}
          <IconButton icon={Users} label="People" onClick={() => void navigate(`/studies/${code}/people`)} />
        </>
      )}
      <History open={view.asked === "history"} onOpenChange={(open) => look({ asked: open ? "history" : null })} />
      <button
        type="button"
        className={`${buttonClass("quiet")} !px-1.5`}
        title="Find a command (Ctrl K)"
        aria-label="Find a command"
        onClick={() => look({ asked: "commands" })}
      >
        <Search size={16} aria-hidden="true" />
        <span className="font-mono text-xs narrow:hidden">Ctrl K</span>
      </button>
      <CommandPalette
        open={view.asked === "commands"}
        onOpenChange={(open) => look({ asked: open ? "commands" : null })}
      />
      <Shortcuts
        open={view.asked === "shortcuts"}
        onOpenChange={(open) => look({ asked: open ? "shortcuts" : null })}
      />
      <ValuesDialog open={view.asked === "values"} onOpenChange={(open) => look({ asked: open ? "values" : null })} />
      {view.asked === "pools" && <PoolsDialog />}
      <MediaLibrary open={view.asked === "media"} onOpenChange={(open) => look({ asked: open ? "media" : null })} />
    </Strip>
  );
}
