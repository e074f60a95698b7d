import { KeyRound, Plus, Trash2 } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Choice, NumberField, Section, Switch, TextField } from "~/app/components/fields";
import { codeExample, type CodePiece } from "~/core/questions/own-code/own-code";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

export const settings: QuestionSettings<"own-code"> = {
  icon: KeyRound,
  Sketch: FieldSketch,
  Fields: ({ question, set }) => {
    const { pieces } = question;
    const change = (index: number, to: Partial<CodePiece>, merge?: string) =>
      set({ pieces: pieces.map((each, at) => (at === index ? { ...each, ...to } : each)) }, merge);
    return (
      <>
        <Section title="The code is made of" aside={codeExample(pieces)}>
          {pieces.map((piece, index) => (
            <div key={index} className="grid gap-0.5 border-l-2 border-hairline pl-2">
              <span className="flex items-center gap-1">
                <span className="w-12 shrink-0">
                  <NumberField
                    label={`How many, piece ${index + 1}`}
                    value={piece.count}
                    whole
                    least={1}
                    onChange={(count) => change(index, { count }, `count ${index}`)}
                  />
                </span>
                <Choice
                  label={`Of what, piece ${index + 1}`}
                  value={piece.of}
                  options={[
                    ["letters", "letters"],
                    ["digits", "digits"],
                  ]}
                  onChange={(of) => change(index, { of })}
                />
                {pieces.length > 1 && (
                  <IconButton
                    icon={Trash2}
                    label={`Remove piece ${index + 1}`}
                    onClick={() => set({ pieces: pieces.filter((_, at) => at !== index) })}
                  />
                )}
              </span>
              <TextField
                label={`What to take, piece ${index + 1}`}
                value={piece.hint}
                onChange={(hint) => change(index, { hint }, `hint ${index}`)}
                problem={(hint) => (hint.trim() ? null : "Say what to take.")}
              />
            </div>
          ))}
          {pieces.length < 10 && (
            <Button
              icon={Plus}
              look="quiet"
              className="justify-self-start"
              onClick={() =>
                set({ pieces: [...pieces, { of: "digits", count: 2, hint: "two digits you will remember" }] })
              }
            >
              Piece
            </Button>
          )}
        </Section>
        <Switch
          label="Twice"
          means="typed a second time"
          checked={question.twice}
          onChange={(twice) => set({ twice })}
        />
      </>
    );
  },
};
