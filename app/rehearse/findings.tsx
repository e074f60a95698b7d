import { CircleAlert, CircleCheck, Info, TriangleAlert } from "lucide-react";
import { useNavigate } from "react-router";
import { Button } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import type { Finding } from "~/core/check/finding";

const signs = {
  error: { icon: CircleAlert, color: "text-alarm" },
  warning: { icon: TriangleAlert, color: "text-chestnut" },
  note: { icon: Info, color: "text-muted" },
} as const;

/** What preflight found, each with a way to where it is mended. */
export function Findings({ findings }: { findings: Finding[] }) {
  const { code, look } = useStudy();
  const navigate = useNavigate();
  if (findings.length === 0)
    return (
      <p className="flex items-center gap-2 p-4 text-plumage">
        <CircleCheck size={16} aria-hidden="true" />
        Nothing to mend: every name is there, every scene ends, every right answer can be given.
      </p>
    );
  const go = ({ target }: Finding) => {
    if (target.pool) return look({ asked: "pools", pool: target.pool });
    if (!target.part) return void navigate(`/studies/${code}/plan`);
    const { scene, item, column, piece, rule } = target;
    look({
      part: target.part,
      trial: null,
      row: target.row ?? null,
      ...(rule ? { below: "rules" as const } : {}),
      selected: rule
        ? { kind: "rule", rule }
        : scene && item
          ? { kind: "item", scene, item }
          : scene
            ? { kind: "scene", scene }
            : column
              ? { kind: "column", column }
              : piece
                ? { kind: "piece", piece }
                : { kind: "nothing" },
    });
    void navigate(`/studies/${code}/compose`);
  };
  return (
    <ul>
      {findings.map((finding) => {
        const { icon: Icon, color } = signs[finding.level];
        return (
          <li
            key={finding.where + finding.message}
            className="grid grid-cols-[16px_1fr_auto] items-start gap-3 border-b border-hairline px-4 py-2.5"
          >
            <Icon size={16} role="img" aria-label={finding.level} className={`mt-0.5 ${color}`} />
            <span>
              <b>{finding.where}</b>
              <br />
              {finding.message}
            </span>
            <Button look="quiet" onClick={() => go(finding)}>
              Go there
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
