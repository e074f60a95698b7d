import type { Editor } from "@tiptap/react";
import {
  Bold,
  Grid3x3,
  Heading,
  Image,
  Italic,
  Link2,
  List,
  ListOrdered,
  Minus,
  PanelTop,
  Table,
  Video,
  Volume2,
} from "lucide-react";
import { useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import type { Page, Piece } from "~/core/design/page";
import type { MediaKind } from "~/core/media/types";
import { mediaKind } from "~/core/media/types";
import { Named, type useNames } from "../bindable";
import { nameContent } from "../written-text";

/** What the menu puts into a page: all that is neither text nor a question. */
type Insertable = Exclude<Piece, { text: unknown }>;

/** What can be written and put into a page. */
export function FlowToolbar({
  page,
  editor,
  families,
}: {
  page: Page;
  editor: Editor | null;
  families: ReturnType<typeof useNames>;
}) {
  const { document, look } = useStudy();
  const [linking, setLinking] = useState(false);
  const first = (kind: MediaKind) => document.media.find(({ mime }) => mediaKind(mime) === kind)?.id ?? "";
  const put = (piece: Insertable) => {
    insertPiece(editor, piece);
    look({ selected: { kind: "piece", piece: piece.id } });
  };
  return (
    <div
      className="flex flex-wrap items-center gap-0.5 border-b border-hairline px-1 py-0.5"
      role="toolbar"
      aria-label={`Format text of ${page.name}`}
    >
      <IconButton
        icon={Heading}
        label="Heading"
        onClick={() => editor?.chain().focus().toggleHeading({ level: 2 }).run()}
      />
      <IconButton icon={Bold} label="Bold (Ctrl B)" onClick={() => editor?.chain().focus().toggleBold().run()} />
      <IconButton icon={Italic} label="Italic (Ctrl I)" onClick={() => editor?.chain().focus().toggleItalic().run()} />
      <IconButton icon={List} label="Bullets" onClick={() => editor?.chain().focus().toggleBulletList().run()} />
      <IconButton
        icon={ListOrdered}
        label="Numbered"
        onClick={() => editor?.chain().focus().toggleOrderedList().run()}
      />
      <IconButton icon={Link2} label="Link" onClick={() => setLinking(true)} />
      <Menu trigger={<IconButton icon={Image} label="Picture, sound, video and more" />}>
        <MenuItem
          onSelect={() => put({ kind: "picture", id: newId("picture"), file: first("picture"), width: 60, says: "" })}
        >
          <Image size={14} aria-hidden="true" className="text-muted" />
          Picture
        </MenuItem>
        <MenuItem onSelect={() => put({ kind: "sound", id: newId("sound"), file: first("sound"), plays: "controls" })}>
          <Volume2 size={14} aria-hidden="true" className="text-muted" />
          Sound
        </MenuItem>
        <MenuItem
          onSelect={() =>
            put({ kind: "video", id: newId("video"), file: first("video"), width: 100, plays: "controls" })
          }
        >
          <Video size={14} aria-hidden="true" className="text-muted" />
          Video
        </MenuItem>
        <MenuItem
          onSelect={() =>
            put({
              kind: "table",
              id: newId("table"),
              rows: [
                ["", ""],
                ["", ""],
              ],
              hasHead: true,
            })
          }
        >
          <Table size={14} aria-hidden="true" className="text-muted" />
          Table
        </MenuItem>
        <MenuItem onSelect={() => put({ kind: "rule", id: newId("rule") })}>
          <Minus size={14} aria-hidden="true" className="text-muted" />
          Line between
        </MenuItem>
        <MenuItem
          onSelect={() =>
            put({ kind: "site", id: newId("site"), address: "https://harbour.example/", width: 100, height: 360 })
          }
        >
          <PanelTop size={14} aria-hidden="true" className="text-muted" />
          Page of another site
        </MenuItem>
      </Menu>
      <Menu
        onClosed={() => void editor?.commands.focus()}
        trigger={
          <Button
            icon={Grid3x3}
            look="quiet"
            title="The value is shown here; typing {{name}} does the same"
            aria-label="Insert a value"
          >
            Insert a value
          </Button>
        }
      >
        {families.map((family) => (
          <div key={family.label}>
            <MenuLabel>{family.label}</MenuLabel>
            {family.names.map(({ name, ref, says }) => (
              <MenuItem key={name} onSelect={() => editor?.chain().focus().insertContent(nameContent(ref, name)).run()}>
                <Named name={name} {...(says === undefined ? {} : { says })} />
              </MenuItem>
            ))}
          </div>
        ))}
      </Menu>
      {editor && <LinkDialog editor={editor} open={linking} onOpenChange={setLinking} />}
    </div>
  );
}

/** Puts a piece behind what the selection is in. */
function insertPiece(editor: Editor | null, piece: Insertable): void {
  if (!editor) return;
  const { $to } = editor.state.selection;
  const at = $to.depth > 0 ? $to.after(1) : $to.pos;
  editor
    .chain()
    .insertContentAt(at, { type: "piece", attrs: { piece: piece.id, carried: JSON.stringify(piece) } })
    .run();
}

function LinkDialog({
  editor,
  open,
  onOpenChange,
}: {
  editor: Editor;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [address, setAddress] = useState("");
  const isProper = /^(?:https?:\/\/|mailto:|tel:)\S+$/i.test(address);
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Link"
      description="The selected words lead there; it opens in a window of its own."
    >
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!isProper) return;
          const chain = editor.chain().focus();
          if (editor.state.selection.empty)
            chain
              .insertContent({ type: "text", text: address, marks: [{ type: "link", attrs: { href: address } }] })
              .run();
          else chain.setLink({ href: address }).run();
          onOpenChange(false);
        }}
      >
        <input
          aria-label="Address"
          className="field"
          value={address}
          placeholder="https://"
          onChange={({ target }) => setAddress(target.value.trim())}
        />
        <Button type="submit" look="primary" disabled={!isProper}>
          Link
        </Button>
        <Button
          onClick={() => {
            editor.chain().focus().unsetLink().run();
            onOpenChange(false);
          }}
        >
          Remove
        </Button>
      </form>
    </Dialog>
  );
}
