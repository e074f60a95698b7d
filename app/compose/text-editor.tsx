import { EditorContent, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { Bold, Grid3x3, Heading, Italic, List, ListOrdered } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import type { FormattedText } from "~/core/values/formatted-text";
import type { Ref } from "~/core/values/ref";
import { Named, useNames } from "./bindable";
import { fromEditor, nameContent, nameNode, textKey, toEditor } from "./written-text";
import { refName } from "~/core/describe/words";

type Props = {
  value: FormattedText;
  onChange: (text: FormattedText) => void;
  block: Block | null;
  label: string;
  small?: boolean;
};

/** Formatted text with names in it: for pages and for text items. */
export function TextEditor({ value, onChange, block, label, small = false }: Props) {
  const { document } = useStudy();
  const families = useNames(block, true);
  const names = useRef({ find: (_: string): Ref | null => null, nameOf: (_: Ref): string | null => null, onChange });
  names.current = {
    find: (name) => families.flatMap((family) => family.names).find((each) => each.name === name)?.ref ?? null,
    nameOf: (ref) => refName(ref, document, block),
    onChange,
  };
  const shown = useRef("");
  const extensions = useMemo(
    () => [
      StarterKit.configure({
        heading: { levels: [2] },
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        strike: false,
        link: false,
        underline: false,
      }),
      nameNode((name) => names.current.find(name)),
    ],
    [],
  );
  const editor = useEditor({
    extensions,
    immediatelyRender: false,
    content: toEditor(value, names.current.nameOf),
    editorProps: {
      attributes: {
        class: `written ${small ? "small" : ""}`,
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": label,
      },
    },
    onUpdate: ({ editor: changed }) => {
      const text = fromEditor(changed.getJSON(), names.current.find);
      shown.current = textKey(text, names.current.nameOf);
      names.current.onChange(text);
    },
  });
  const key = textKey(value, names.current.nameOf);
  useEffect(() => {
    if (!editor || shown.current === key) return;
    shown.current = key;
    editor.commands.setContent(toEditor(value, names.current.nameOf), { emitUpdate: false });
  }, [editor, key, value]);

  return (
    <div className="flex min-h-0 flex-1 flex-col rounded-md border border-hairline bg-sheet">
      <div
        className="flex flex-wrap items-center gap-0.5 border-b border-hairline px-1 py-0.5"
        role="toolbar"
        aria-label={`Format ${label}`}
      >
        {!small && (
          <IconButton
            icon={Heading}
            label="Heading"
            onClick={() => editor?.chain().focus().toggleHeading({ level: 2 }).run()}
          />
        )}
        <IconButton icon={Bold} label="Bold (Ctrl B)" onClick={() => editor?.chain().focus().toggleBold().run()} />
        <IconButton
          icon={Italic}
          label="Italic (Ctrl I)"
          onClick={() => editor?.chain().focus().toggleItalic().run()}
        />
        {!small && (
          <IconButton icon={List} label="Bullets" onClick={() => editor?.chain().focus().toggleBulletList().run()} />
        )}
        {!small && (
          <IconButton
            icon={ListOrdered}
            label="Numbered"
            onClick={() => editor?.chain().focus().toggleOrderedList().run()}
          />
        )}
        <Menu
          onClosed={() => void editor?.commands.focus()}
          trigger={
            <Button
              icon={Grid3x3}
              look="quiet"
              title="The value of a column, a group or the session is shown here; typing {{name}} does the same"
              aria-label="Insert a value"
            >
              {small ? "" : "Insert a value"}
            </Button>
          }
        >
          {families.map((family) => (
            <div key={family.label}>
              <MenuLabel>{family.label}</MenuLabel>
              {family.names.map(({ name, ref, says }) => (
                <MenuItem
                  key={name}
                  onSelect={() => editor?.chain().focus().insertContent(nameContent(ref, name)).run()}
                >
                  <Named name={name} {...(says === undefined ? {} : { says })} />
                </MenuItem>
              ))}
            </div>
          ))}
        </Menu>
      </div>
      <EditorContent
        editor={editor}
        className={`min-h-0 flex-1 cursor-text overflow-auto ${small ? "max-h-32 px-2 py-1" : "px-5 py-4"}`}
        onClick={() => editor?.isFocused || editor?.commands.focus()}
      />
    </div>
  );
}
