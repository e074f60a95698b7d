import { Ellipsis, Users } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useFetcher } from "react-router";
import { Button, IconButton } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { LeaveStudy } from "~/app/people/leave-study";
import { firstPage, mayDo, rolesInWords, type Right } from "~/core/rights/rights";
import type { action } from "~/app/routes/studies";
import type { StudyLine } from "~/server/study-list";

/** Deletes a study of the bin: asked first, then the title is typed. */
function DeleteForGood({ study }: { study: StudyLine }) {
  const [isOpen, setOpen] = useState(false);
  const [isSure, setSure] = useState(false);
  const deleting = useFetcher<typeof action>();
  const close = (open: boolean) => {
    setOpen(open);
    setSure(false);
  };
  return (
    <>
      <Button look="alarm" onClick={() => setOpen(true)}>
        Delete
      </Button>
      <Dialog
        open={isOpen}
        onOpenChange={close}
        title={`Delete “${study.title}” for good?`}
        description={`Its design and history, its releases and links, ${study.finished === 0 ? "all sessions" : `all sessions (${study.finished} finished)`} and the media no other study uses are removed. It cannot be brought back; export the study file and the data first if they may be needed.`}
      >
        {!isSure ? (
          <div className="flex justify-end gap-2">
            <Button onClick={() => close(false)}>Keep it</Button>
            <Button look="alarm" onClick={() => setSure(true)}>
              Delete it
            </Button>
          </div>
        ) : (
          <deleting.Form method="post" action={`/studies?do=delete&code=${study.code}`} className="grid gap-3">
            <Field
              label="Type its title to delete it"
              name="title"
              autoFocus
              autoComplete="off"
              problem={deleting.data?.problem ?? undefined}
            />
            <div className="flex justify-end gap-2">
              <Button onClick={() => close(false)}>Keep it</Button>
              <Button type="submit" look="alarm">
                Delete for good
              </Button>
            </div>
          </deleting.Form>
        )}
      </Dialog>
    </>
  );
}

/** The labels of a study, parted by commas. */
function Labels({ study, onClose }: { study: StudyLine; onClose: () => void }) {
  const setting = useFetcher<typeof action>();
  useEffect(() => {
    if (setting.state === "idle" && setting.data && setting.data.problem === null) onClose();
  }, [setting.state, setting.data, onClose]);
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Labels of “${study.title}”`}
      description="Everyone who works on it sees them, and can show only the studies with one of them."
    >
      <setting.Form method="post" action={`/studies?do=labels&code=${study.code}`} className="grid gap-3">
        <Field
          label="Labels, with commas between them"
          name="labels"
          autoFocus
          autoComplete="off"
          maxLength={2000}
          defaultValue={study.labels.join(", ")}
          placeholder="spring term, pilot"
          problem={setting.data?.problem ?? undefined}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Leave as they are</Button>
          <Button type="submit" look="primary">
            Set the labels
          </Button>
        </div>
      </setting.Form>
    </Dialog>
  );
}

/** One study of the list, with what can be done with it. */
export function StudyRow({ study, written }: { study: StudyLine; written: string | undefined }) {
  const may = (right: Right) => mayDo(study.roles, right);
  const isOwner = study.roles.includes("owner");
  const fetcher = useFetcher();
  const send = (what: string) =>
    void fetcher.submit(null, { method: "post", action: `/studies?do=${what}&code=${study.code}` });
  const [isLabelling, setLabelling] = useState(false);
  const [isLeaving, setLeaving] = useState(false);
  const most = Math.max(1, ...study.days);
  return (
    <tr className="h-[57px] border-b border-hairline last:border-b-0 hover:bg-plumage-tint/40">
      <td className="px-3.5 py-2">
        {study.binnedAt ? (
          <span className="font-serif text-[16px] font-medium">{study.title}</span>
        ) : (
          <Link
            to={`/studies/${study.code}/${firstPage(study.roles)}`}
            className="font-serif text-[16px] font-medium hover:underline"
          >
            {study.title}
          </Link>
        )}
        <div className="flex flex-wrap items-center gap-x-2 text-xs text-muted">
          <span className="font-mono">{study.code}</span>
          {!isOwner && <span>{`${study.owner}’s; you are ${rolesInWords(study.roles)}`}</span>}
          {isOwner && study.shared > 0 && (
            <span className="flex items-center gap-1" title="Others work on it too">
              <Users size={12} aria-hidden="true" /> shared
            </span>
          )}
          {study.labels.map((label) => (
            <span key={label} className="rounded-[4px] border border-hairline px-1">
              {label}
            </span>
          ))}
        </div>
        {written !== undefined && <div className="text-xs text-muted">In it: “{written}”</div>}
      </td>
      <td className="px-3.5">
        <span
          className={`rounded-md border px-2 py-0.5 text-xs font-semibold ${study.work === "collecting" ? "border-chestnut-tint bg-chestnut-tint text-chestnut" : "border-hairline text-muted"}`}
        >
          {study.work}
        </span>
      </td>
      <td className="px-3.5 text-muted">
        {study.groups} {study.groups === 1 ? "group" : "groups"} × {study.parts} parts
      </td>
      <td className="px-3.5">
        {study.released ? (
          <span className="flex items-center gap-2.5">
            {study.target !== null && (
              <span aria-hidden="true" className="h-1.5 w-[86px] overflow-hidden rounded-[3px] bg-track">
                <span
                  className="block h-full bg-chestnut"
                  style={{ width: `${Math.min(100, (100 * study.finished) / study.target)}%` }}
                />
              </span>
            )}
            <span className="font-mono text-xs">
              {study.finished}
              {study.target !== null && ` of ${study.target}`}
            </span>
          </span>
        ) : (
          <span className="text-muted">not yet released</span>
        )}
      </td>
      <td className="px-3.5">
        <span role="img" aria-label={`sessions a day: ${study.days.join(", ")}`} className="flex h-5 items-end gap-0.5">
          {study.days.map((count, index) => (
            <span
              key={index}
              className={`w-[5px] ${count > 0 ? "bg-plumage" : "bg-hairline"}`}
              style={{ height: count > 0 ? Math.max(3, (20 * count) / most) : 1 }}
            />
          ))}
        </span>
      </td>
      <td className="px-3.5 text-muted">
        <When iso={study.editedAt} />
      </td>
      <td className="pr-3 text-right">
        {study.binnedAt ? (
          <span className="flex justify-end gap-1">
            {may("end-study") && (
              <>
                <Button onClick={() => send("restore")}>Restore</Button>
                <DeleteForGood study={study} />
              </>
            )}
          </span>
        ) : (
          <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`Actions for ${study.title}`} />}>
            {may("see-design") && (
              <>
                <MenuItem onSelect={() => location.assign(`/studies/${study.code}/file`)}>Export study file</MenuItem>
                <MenuItem onSelect={() => send("duplicate")}>Duplicate</MenuItem>
              </>
            )}
            {may("change-design") && <MenuItem onSelect={() => setLabelling(true)}>Labels …</MenuItem>}
            {!isOwner && <MenuItem onSelect={() => setLeaving(true)}>Leave it …</MenuItem>}
            {may("end-study") && (
              <MenuItem alarm onSelect={() => send("bin")}>
                Move to the bin
              </MenuItem>
            )}
          </Menu>
        )}
        {isLabelling && <Labels study={study} onClose={() => setLabelling(false)} />}
        {isLeaving && <LeaveStudy code={study.code} onClose={() => setLeaving(false)} />}
      </td>
    </tr>
  );
}
