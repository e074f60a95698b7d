import { FileSpreadsheet, Plus, Sigma } from "lucide-react";
import { useState, type ReactNode } from "react";
import { Button } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import { formCaption } from "~/core/compile/form-caption";
import { addPiece, addScore } from "~/core/design/edits/page";
import { namesEverywhere } from "~/core/design/names-in-reach";
import type { Page } from "~/core/design/page";
import { isSet, questionsOf } from "~/core/design/questions";
import { questionKind, questionKinds, type QuestionKind } from "~/core/questions/registry";
import { freeName } from "~/core/values/names";
import { useEscapeUp } from "./escape-up";
import { FlowEditor } from "./form/flow-editor";
import { ListDialog } from "./form/list-dialog";
import { LiveView } from "./form/live-view";
import { PageMargin } from "./form/page-margin";
import { PieceMargin } from "./form/piece-margin";
import { questionSettings } from "./form/question-kinds";
import { QuestionMargin } from "./form/question-margin";
import { placedRule } from "./rules/places";
import { RuleMargin } from "./rules/rule-margin";
import { ScoreMargin } from "./form/score-margin";
import { freshScore } from "./form/scores-of";

/** A page as a document of text and questions, with what the participant sees beside it. */
export function PageComposer({ page, parts }: { page: Page; parts: ReactNode }) {
  const { document, edit, look, view } = useStudy();
  const [listing, setListing] = useState(false);
  const group = plannedAssignment(document, view.participant).group;
  const groupName = document.groups.find(({ id }) => id === group)?.name ?? "";
  const { title, about } = formCaption(document, page);
  useEscapeUp(view.selected.kind !== "nothing", () => look({ selected: { kind: "nothing" } }));
  const add = (kind: QuestionKind) => {
    const question = questionKind(kind).make(newId, freeName(questionKind(kind).stem, namesEverywhere(document, null)));
    const { selected } = view;
    edit(addPiece(page.id, question, selected.kind === "piece" ? selected.piece : null));
    look({ selected: { kind: "piece", piece: question.id } });
  };
  return (
    <div className="flex h-full small:h-auto small:flex-col">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex min-h-11 shrink-0 items-center gap-x-4 px-4 small:flex-wrap small:py-1.5">
          {parts}
          <h1 className="caption line-clamp-2 min-w-0">
            <b>{title}</b> {about}
          </h1>
          <span className="ml-auto flex shrink-0 gap-1 small:ml-0">
            <Menu
              align="end"
              trigger={
                <Button icon={Plus} look="quiet">
                  Question
                </Button>
              }
            >
              {questionKinds.map((kind) => {
                const { icon: Icon } = questionSettings(kind);
                return (
                  <MenuItem key={kind} onSelect={() => add(kind)}>
                    <Icon size={14} aria-hidden="true" className="text-muted" />
                    {questionKind(kind).says}
                  </MenuItem>
                );
              })}
            </Menu>
            <Button
              icon={Sigma}
              look="quiet"
              onClick={() => {
                const score = freshScore(
                  document,
                  questionsOf(page).filter(({ kind }) => questionKind(kind).score ?? questionKind(kind).parts),
                );
                edit(addScore(score));
                look({ selected: { kind: "score", score: score.id } });
              }}
            >
              Score
            </Button>
            <Button icon={FileSpreadsheet} look="quiet" onClick={() => setListing(true)}>
              From a list
            </Button>
          </span>
        </div>
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,11fr)_minmax(0,9fr)] gap-4 px-4 pb-3 small:h-auto small:grid-cols-1">
          <div className="flex min-h-0 flex-col small:h-[70vh]">
            <FlowEditor key={page.id} page={page} />
          </div>
          <div className="flex min-h-0 flex-col gap-2 small:h-[70vh]">
            <LiveView
              page={page}
              group={group}
              caption={`As participant ${view.participant} reads it, ${groupName} group; try the answers here`}
            />
          </div>
        </div>
        <ListDialog page={page} open={listing} onOpenChange={setListing} />
      </div>
      <SelectedOfPage page={page} />
    </div>
  );
}

function SelectedOfPage({ page }: { page: Page }) {
  const { document, look, view } = useStudy();
  const { selected } = view;
  const placed = selected.kind === "rule" ? placedRule(document, selected.rule, page.id) : undefined;
  if (placed)
    return (
      <RuleMargin
        key={placed.rule.id}
        placed={placed}
        up={{ name: page.name, holds: "the page", go: () => look({ selected: { kind: "nothing" } }) }}
      />
    );
  if (selected.kind === "score") {
    const score = document.scores.find(({ id }) => id === selected.score);
    if (score) return <ScoreMargin key={score.id} page={page} score={score} />;
  }
  if (selected.kind === "piece") {
    const question = questionsOf(page).find(({ id }) => id === selected.piece);
    if (question) return <QuestionMargin key={question.id} page={page} question={question} />;
    const piece = page.flow.find(({ id }) => id === selected.piece);
    if (piece && (isSet(piece) || !("text" in piece))) return <PieceMargin key={piece.id} page={page} piece={piece} />;
  }
  return <PageMargin page={page} />;
}
