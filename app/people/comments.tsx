import { Check, Undo2 } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { Choice } from "~/app/components/fields";
import { useStudy, type Selected } from "~/app/editing/use-study";
import { aboutInWords, type About } from "~/core/describe/about";
import type { Comment } from "~/server/comments";

type Props = {
  code: string;
  /** What is selected just now. */
  about: About;
  send: (body: unknown) => Promise<Response>;
  onChange: () => void;
  onClose: () => void;
};
const whole: About = { kind: "study", part: null, id: null };

/** What is said of a design: open comments first, each with its answers, and a new one on what is selected. */
export function Comments({ code, about, send, onChange, onClose }: Props) {
  const { document, look } = useStudy();
  const navigate = useNavigate();
  const [comments, setComments] = useState<Comment[] | null>(null);
  const [shows, setShows] = useState<"open" | "resolved">("open");
  const [of, setOf] = useState<"selected" | "study">("selected");
  const [text, setText] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    let isCurrent = true;
    void fetch(`/studies/${code}/together`)
      .then(async (answer) => (answer.ok ? ((await answer.json()) as Comment[]) : []))
      .catch(() => [])
      .then((found) => isCurrent && setComments(found));
    return () => void (isCurrent = false);
  }, [code]);
  /** Sends something; whether it was taken. */
  const say = async (body: unknown): Promise<boolean> => {
    setProblem(null);
    const answer = await send(body).catch(() => null);
    const told = (await answer?.json().catch(() => null)) as Comment[] | { reason?: string } | null;
    if (answer?.ok && Array.isArray(told)) {
      setComments(told);
      onChange();
      return true;
    }
    setProblem(
      (told as { reason?: string } | null)?.reason ?? "The server cannot be reached. What you typed is still here.",
    );
    return false;
  };
  const called = aboutInWords(document, about);
  const target = of === "selected" && called !== null ? about : whole;
  const add = async () => {
    if (text.trim() !== "" && (await say({ about: target, answers: null, text: text.trim() }))) setText("");
  };
  const go = (to: About) => {
    if (to.part === null) return;
    const selected: Selected =
      to.kind === "scene" && to.id !== null
        ? { kind: "scene", scene: to.id }
        : to.kind === "question" && to.id !== null
          ? { kind: "piece", piece: to.id }
          : { kind: "nothing" };
    look({ part: to.part, selected, row: to.kind === "row" ? to.id : null });
    void navigate(`/studies/${code}/compose`);
    onClose();
  };
  const shown = (comments ?? []).filter(({ resolved }) => (resolved === null) === (shows === "open"));
  return (
    <Dialog wide open onOpenChange={(isOpen) => !isOpen && onClose()} title="Comments">
      <form
        aria-label="A new comment"
        className="grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void add();
        }}
      >
        <div className="flex items-center gap-2 text-sm">
          <span className="text-muted">On</span>
          <span className="w-[320px]">
            <Choice
              label="What it is about"
              value={called === null || about.kind === "study" ? "study" : of}
              options={[
                ...(called !== null && about.kind !== "study" ? [["selected", called] as const] : []),
                ["study", "the study as a whole"] as const,
              ]}
              onChange={setOf}
            />
          </span>
        </div>
        <textarea
          aria-label="Comment"
          rows={2}
          maxLength={4000}
          value={text}
          onChange={({ target: field }) => setText(field.value)}
          className="field !h-auto py-1"
        />
        <div className="flex justify-end">
          <Button type="submit" disabled={text.trim() === ""}>
            Add the comment
          </Button>
        </div>
      </form>
      {problem && (
        <p role="alert" className="text-alarm">
          {problem}
        </p>
      )}
      <div role="group" aria-label="Which comments" className="flex gap-1">
        {(["open", "resolved"] as const).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={shows === each}
            onClick={() => setShows(each)}
            className={`h-6 rounded-md border px-2 text-sm ${shows === each ? "border-hairline bg-sheet text-ink" : "border-transparent text-muted hover:text-ink"}`}
          >
            {`${each}, ${(comments ?? []).filter(({ resolved }) => (resolved === null) === (each === "open")).length}`}
          </button>
        ))}
      </div>
      <ul className="grid gap-3" data-comments>
        {shown.map((comment) => (
          <CommentCard
            key={comment.id}
            comment={comment}
            about={aboutInWords(document, comment.about)}
            say={say}
            onGo={comment.about.part === null ? null : () => go(comment.about)}
          />
        ))}
      </ul>
      {comments !== null && shown.length === 0 && (
        <p className="text-muted">{shows === "open" ? "Nothing is open." : "Nothing was resolved yet."}</p>
      )}
    </Dialog>
  );
}

type CardProps = {
  comment: Comment;
  /** What it is about, as that is called now; null where it is not there any more. */
  about: string | null;
  say: (body: unknown) => Promise<boolean>;
  onGo: (() => void) | null;
};

function CommentCard({ comment, about, say, onGo }: CardProps) {
  const { id, text, by, at, resolved, answers } = comment;
  const [answer, setAnswer] = useState("");
  const reply = async () => {
    if (answer.trim() !== "" && (await say({ about: comment.about, answers: id, text: answer.trim() }))) setAnswer("");
  };
  return (
    <li className="border-t border-hairline pt-2" data-comment>
      <div className="flex items-baseline gap-2 text-sm">
        {about !== null && onGo ? (
          <button type="button" className="font-semibold text-plumage hover:underline" onClick={onGo}>
            {about}
          </button>
        ) : (
          <b className={about === null ? "text-muted" : ""}>{about ?? "Something that is not there any more"}</b>
        )}
        <span className="text-muted">
          {by}, <When iso={at} form="moment" />
        </span>
        <Button
          icon={resolved ? Undo2 : Check}
          look="quiet"
          className="ml-auto"
          onClick={() => void say({ comment: id, resolved: resolved === null })}
        >
          {resolved ? "Open again" : "Resolve"}
        </Button>
      </div>
      <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{text}</p>
      {resolved && (
        <p className="text-sm text-muted">
          Resolved by {resolved.by}, <When iso={resolved.at} form="moment" />
        </p>
      )}
      <ul className="ml-4 border-l border-hairline pl-3">
        {answers.map((each) => (
          <li key={each.id} className="mt-1">
            <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{each.text}</p>
            <span className="text-sm text-muted">
              {each.by}, <When iso={each.at} form="moment" />
            </span>
          </li>
        ))}
        {!resolved && (
          <li className="mt-1">
            <form
              className="flex gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                void reply();
              }}
            >
              <input
                aria-label={`An answer to ${by}`}
                placeholder="answer"
                maxLength={4000}
                value={answer}
                onChange={({ target }) => setAnswer(target.value)}
                className="field"
              />
              <Button type="submit" disabled={answer.trim() === ""}>
                Answer
              </Button>
            </form>
          </li>
        )}
      </ul>
    </li>
  );
}
