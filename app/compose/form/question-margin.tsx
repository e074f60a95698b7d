import { ArrowDown, ArrowUp, Copy } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { ChoiceLine, Property, Section, Switch, TextField } from "~/app/components/fields";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { RemoveUsed } from "~/app/components/used-first";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import {
  addPiece,
  copiedPiece,
  movePiece,
  removeFromSet,
  removePiece,
  replaceQuestion,
  setQuestion,
} from "~/core/design/edits/page";
import { namesEverywhere } from "~/core/design/names-in-reach";
import type { Page } from "~/core/design/page";
import { isSet, pagesInOrder, questionsOf } from "~/core/design/questions";
import { questionKind, questionKinds, type Question } from "~/core/questions/registry";
import { usesOfQuestion } from "~/core/design/uses-of-answers";
import { nameProblem } from "~/core/values/names";
import { Margin } from "../margin";
import { ConditionFields } from "./condition-fields";
import { questionSettings } from "./question-kinds";
import { ScoresOf } from "./scores-of";

/** The settings of one question. */
export function QuestionMargin({ page, question }: { page: Page; question: Question }) {
  const { document, edit, look } = useStudy();
  const set = (change: object, merge?: string) =>
    edit(setQuestion(page.id, question.id, change), merge && `${merge} ${question.id}`);
  const questions = questionsOf(page);
  const at = page.flow.findIndex(({ id }) => id === question.id);
  const { Fields } = questionSettings(question.kind);
  const kind = questionKind(question.kind);
  const later = questions.slice(questions.indexOf(question)).map(({ id }) => id);
  const changeKind = (next: Question["kind"]) => {
    const { id, name, text, explanation, need, ratherNot, when } = question;
    const fresh = questionKind(next).make(newId, name);
    const kept = { id, name, text, explanation, need, ratherNot, ...(when ? { when } : {}) };
    const options = "options" in question && "options" in fresh ? { options: question.options } : {};
    edit(replaceQuestion(page.id, id, { ...fresh, ...options, ...kept } as Question));
  };
  return (
    <Margin
      up={{ name: page.name, holds: "time, going on, ending", go: () => look({ selected: { kind: "nothing" } }) }}
      title={<span className="font-mono">{question.name}</span>}
      kind={`question ${questions.indexOf(question) + 1}`}
      actions={
        <>
          <IconButton
            icon={ArrowUp}
            label="Move the question up"
            disabled={at <= 0}
            onClick={() => edit(movePiece(page.id, question.id, at - 1))}
          />
          <IconButton
            icon={ArrowDown}
            label="Move the question down"
            disabled={at < 0 || at >= page.flow.length - 1}
            onClick={() => edit(movePiece(page.id, question.id, at + 1))}
          />
          <Menu align="end" trigger={<IconButton icon={Copy} label="Duplicate or copy the question" />}>
            <MenuItem
              onSelect={() => {
                const copy = copiedPiece(question, document, newId);
                edit(addPiece(page.id, copy, at < 0 ? null : question.id));
                look({ selected: { kind: "piece", piece: copy.id } });
              }}
            >
              Duplicate here
            </MenuItem>
            {pagesInOrder(document)
              .filter(({ id }) => id !== page.id)
              .map((other) => (
                <MenuItem
                  key={other.id}
                  onSelect={() => edit(addPiece(other.id, copiedPiece(question, document, newId), null))}
                >
                  Copy to {other.name}
                </MenuItem>
              ))}
            <MenuLabel>To another study: Ctrl C on the card, Ctrl V there</MenuLabel>
          </Menu>
          <RemoveUsed
            label="Remove the question"
            uses={usesOfQuestion(document, question.id)}
            onRemove={() => {
              const set = page.flow.find((piece) => isSet(piece) && piece.questions.includes(question));
              edit(set ? removeFromSet(page.id, set.id, question.id) : removePiece(page.id, question.id));
              look({ selected: set ? { kind: "piece", piece: set.id } : { kind: "nothing" } });
            }}
          />
        </>
      }
    >
      <Section title="What it asks for">
        <Property label="Name" htmlFor="question-name">
          <TextField
            id="question-name"
            value={question.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) => nameProblem(name, namesEverywhere(document, question.id))}
          />
        </Property>
        <ChoiceLine
          says="Kind"
          value={question.kind}
          options={questionKinds.map((each) => [each, questionKind(each).says] as const)}
          onChange={changeKind}
        />
        <Fields question={question} set={set} />
        <Property label="Explains">
          <TextField
            label="Explanation"
            value={question.explanation}
            onChange={(explanation) => set({ explanation }, "explanation")}
          />
        </Property>
      </Section>
      <Section title="Must it be answered?">
        <Sentence>
          It{" "}
          <SentenceChoice
            label="Must it be answered?"
            value={question.need === "must" ? "must" : "may"}
            options={[
              ["must", "must be answered"],
              ["may", "may be skipped"],
            ]}
            onChange={(need) => set({ need: need === "must" ? "must" : "reminder" })}
          />
          {question.need !== "must" && (
            <>
              , after{" "}
              <SentenceChoice
                label="Reminder"
                value={question.need}
                options={[
                  ["reminder", "one reminder"],
                  ["may", "no reminder"],
                ]}
                onChange={(need) => set({ need })}
              />
            </>
          )}
          .
        </Sentence>
        <Switch
          label="Rather not"
          means="“I would rather not say” is offered"
          checked={question.ratherNot}
          onChange={(ratherNot) => set({ ratherNot })}
        />
      </Section>
      <Section title="Shown">
        <Sentence>
          <SentenceChoice
            label="Shown"
            value={question.when ? "if" : "always"}
            options={[
              ["always", "always"],
              ["if", "only if"],
            ]}
            onChange={(when) => {
              if (when === "always") return set({ when: undefined });
              const before = questions[questions.indexOf(question) - 1];
              set({
                when: before
                  ? { left: { from: { question: before.id } }, is: "≠", right: null }
                  : {
                      left: { from: { builtIn: "participant.group" } },
                      is: "=",
                      right: document.groups[0]?.name ?? "",
                    },
              });
            }}
          />
        </Sentence>
        {question.when && (
          <ConditionFields condition={question.when} without={later} onChange={(when) => set({ when })} />
        )}
      </Section>
      <Section title="In the data" aside="answers, sessions">
        {columnsOf(question).map(({ name, holds }) => (
          <p key={name} className="grid grid-cols-[1fr_1.2fr] gap-2 text-xs">
            <span className="truncate font-mono text-sheen">{name}</span>
            <span className="truncate text-muted">{holds}</span>
          </p>
        ))}
        {kind.isRight && <p className="text-xs text-muted">Right or not, and points, stand in the answers.</p>}
      </Section>
      <ScoresOf question={question} />
    </Margin>
  );
}

const mostColumns = 8;

/** What the question becomes in the data, in few words. */
function columnsOf(question: Question): { name: string; holds: string }[] {
  const kind = questionKind(question.kind);
  const parts = kind.parts?.(question);
  const own = parts ? [] : [{ name: question.name, holds: `${kind.type(question)}, or empty` }];
  const more = [...(parts ?? []), ...(kind.beside?.(question) ?? [])].map(({ name, type }) => ({
    name: `${question.name}_${name}`,
    holds: type,
  }));
  const all = [...own, ...more];
  return all.length > mostColumns
    ? [...all.slice(0, mostColumns), { name: "…", holds: `and ${all.length - mostColumns} more` }]
    : all;
}
