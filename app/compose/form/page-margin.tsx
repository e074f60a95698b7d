import { Plus, Trash2 } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { ChoiceLine, Property, Section, Switch, TextField } from "~/app/components/fields";
import { RulesSection } from "~/app/compose/rules/rules-section";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addEnding, removeEnding, setEnding } from "~/core/design/edits/page";
import { setPage, setPart } from "~/core/design/edits/parts";
import type { Ending, Page, PageTime } from "~/core/design/page";
import { partNameProblem } from "~/core/design/part-labels";
import { questionsOf } from "~/core/design/questions";
import { siteAddress } from "~/core/passages/passage";
import { contextFor } from "~/core/values/context";
import { shippedFonts } from "~/core/values/fonts";
import { plainText } from "~/core/values/formatted-text";
import { Margin } from "../margin";
import { NotesField } from "../notes-field";
import { TextEditor } from "../text-editor";
import { Chip } from "../chip";
import { FontField } from "../font-field";
import { ConditionFields } from "./condition-fields";
import { OptionalNumber } from "./optional-number";
import { scoreInWords } from "./scores-of";

/** The settings of a page as a whole: how it goes on, its time, and when it ends the session. */
export function PageMargin({ page }: { page: Page }) {
  const { document, edit, look } = useStudy();
  const questions = questionsOf(page);
  const ids = new Set(questions.map(({ id }) => id));
  const scores = document.scores.filter(({ from }) => from.some(({ question }) => ids.has(question)));
  const setTime = (change: Partial<PageTime>) => {
    const time: PageTime = { countdown: false, ...page.time, ...change };
    const plain = Object.fromEntries(
      Object.entries(time).filter(([, value]) => value !== undefined),
    ) as unknown as PageTime;
    const isNone = plain.least === undefined && plain.most === undefined;
    edit(setPage(page.id, { time: isNone ? undefined : plain }), `time ${page.id}`);
  };
  return (
    <Margin title={page.name} kind={questions.length > 0 ? "form" : "page"}>
      <Section title="What">
        <Property label="Name" htmlFor="page-name">
          <TextField
            id="page-name"
            value={page.name}
            onChange={(name) => edit(setPart(page.id, { name }), "page name")}
            problem={(name) => partNameProblem(document, page.id, name)}
          />
        </Property>
        <Property label="Button" htmlFor="page-button">
          <TextField
            id="page-button"
            value={page.continueLabel}
            onChange={(continueLabel) => edit(setPage(page.id, { continueLabel }), "page button")}
            problem={(label) => (label.trim() ? null : "The button needs a label.")}
          />
        </Property>
      </Section>
      <Section title="How it goes">
        <Sentence>
          It shows{" "}
          <SentenceChoice
            label="It shows"
            value={page.shows}
            options={[
              ["all", "everything at once"],
              ["one", "one question after the other"],
            ]}
            onChange={(shows) => edit(setPage(page.id, { shows }))}
          />
          ; participants{" "}
          <SentenceChoice
            label="Participants"
            value={page.back ? "may" : "cannot"}
            options={[
              ["cannot", "cannot go back"],
              ["may", "may go back to the page before"],
            ]}
            onChange={(back) => edit(setPage(page.id, { back: back === "may" }))}
          />
          .
        </Sentence>
        <FontField
          value={page.font ?? shippedFonts[0]}
          onChange={(font) => edit(setPage(page.id, { font: font === shippedFonts[0] ? undefined : font }))}
          block={null}
          context={contextFor({ study: document, group: document.groups[0]?.id ?? "", participant: 1 })}
        />
        <Switch
          label="Copy"
          means="participants can save one, with their answers"
          checked={page.copy === true}
          onChange={(copy) => edit(setPage(page.id, { copy: copy || undefined }))}
        />
        <ChoiceLine
          says="Bar"
          value={page.progress ?? "study"}
          options={[
            ["study", "as the study says"],
            ["shown", "how much is done is shown"],
            ["hidden", "not shown"],
          ]}
          onChange={(progress) => edit(setPage(page.id, { progress: progress === "study" ? undefined : progress }))}
        />
      </Section>
      <Section title="Time">
        <OptionalNumber
          says="At least"
          label="Shortest time"
          value={page.time?.least}
          least={1}
          suffix="s"
          onChange={(least) => setTime({ least })}
        />
        <OptionalNumber
          says="At most"
          label="Longest time"
          value={page.time?.most}
          least={1}
          suffix="s"
          onChange={(most) => setTime({ most })}
        />
        {page.time?.most !== undefined && (
          <>
            <OptionalNumber
              says="Warns"
              label="Warning before the end"
              value={page.time.warns}
              least={1}
              suffix="s"
              onChange={(warns) => setTime({ warns })}
            />
            <Switch
              label="Countdown"
              means="the time left is shown"
              checked={page.time.countdown}
              onChange={(countdown) => setTime({ countdown })}
            />
          </>
        )}
      </Section>
      <Section title="Goes on only if" aside={page.endings.length === 0 ? "always" : ""}>
        {page.endings.map((ending) => (
          <EndingFields key={ending.id} page={page} ending={ending} />
        ))}
        <Button
          icon={Plus}
          look="quiet"
          className="justify-self-start"
          onClick={() => {
            const last = questions.at(-1);
            edit(
              addEnding(page.id, {
                id: newId("ending"),
                when: last
                  ? { left: { from: { question: last.id } }, is: "≠", right: true }
                  : { left: { from: { builtIn: "participant.number" } }, is: "=", right: 0 },
                as: "screened-out",
                text: plainText("Thank you. You cannot take part in this study."),
              }),
            );
          }}
        >
          End the session here if …
        </Button>
      </Section>
      {scores.length > 0 && (
        <Section title="Scores" aside={`${scores.length}`}>
          {scores.map((score) => (
            <button
              key={score.id}
              type="button"
              className="text-left text-sm hover:underline"
              onClick={() => look({ selected: { kind: "score", score: score.id } })}
            >
              {scoreInWords(score, document)} <Chip>{score.name}</Chip>
            </button>
          ))}
        </Section>
      )}
      <RulesSection rules={page.rules} place={{ part: page.id, scene: null }} />
      <Section title="Notes">
        <NotesField
          label={`Notes on ${page.name}`}
          value={page.notes}
          onChange={(notes) => edit(setPart(page.id, { notes }), `notes ${page.id}`)}
        />
      </Section>
    </Margin>
  );
}

function EndingFields({ page, ending }: { page: Page; ending: Ending }) {
  const { edit } = useStudy();
  const set = (change: Partial<Ending>, merge?: string) =>
    edit(setEnding(page.id, ending.id, change), merge && `${merge} ${ending.id}`);
  return (
    <div className="mb-2 grid gap-1 border-l-2 border-chestnut-tint pl-2">
      <div className="flex items-start gap-1">
        <Sentence>
          The session ends as{" "}
          <SentenceChoice
            label="The session ends as"
            value={ending.as}
            options={[
              ["screened-out", "screened out"],
              ["declined", "declined"],
            ]}
            onChange={(as) => set({ as })}
          />{" "}
          if
        </Sentence>
        <span className="ml-auto">
          <IconButton icon={Trash2} label="Remove this ending" onClick={() => edit(removeEnding(page.id, ending.id))} />
        </span>
      </div>
      <ConditionFields condition={ending.when} onChange={(when) => when && set({ when }, "when")} />
      <p className="text-xs text-muted">Participants read then:</p>
      <TextEditor
        value={ending.text}
        onChange={(text) => set({ text }, "text")}
        block={null}
        label="What is read when the session ends"
        small
      />
      <Property label="Leads to">
        <TextField
          label="Address of the button"
          value={ending.address ?? ""}
          onChange={(address) => set({ address: address || undefined }, "address")}
          problem={(address) =>
            address === "" || siteAddress.fits(address)
              ? null
              : "Write an address that begins with https://, or nothing."
          }
        />
      </Property>
      {ending.as === "declined" && (
        <p className="text-xs text-muted">Nothing is kept of who declines but that somebody did.</p>
      )}
    </div>
  );
}
