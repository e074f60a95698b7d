import { SaxesParser, type SaxesTagPlain } from "saxes";

/** Elements that bring in what is no drawing, by name without prefix. */
const foreign = new Set(["foreignobject", "iframe", "object", "embed", "audio", "video"]);
/** Where pictures inside a drawing may come from, besides the drawing itself. */
const ownPictures = ["data:image/png;base64,", "data:image/jpeg;base64,", "data:image/webp;base64,"];
/** Attributes that lead somewhere, by name without prefix. */
const leading = new Set(["href", "src"]);
/** Deeper than this no drawing is. */
const mostDepth = 500;

/** Says in words why a drawing is not taken. */
class Refusal extends Error {}
const because = (what: string): never => {
  throw new Refusal(`The SVG is refused because ${what}. Save it as a plain drawing and try again.`);
};

const local = (name: string) => name.slice(name.indexOf(":") + 1).toLowerCase();

/**
 * The size of an SVG from its view box, or why it cannot be taken; null where the text is no SVG. A drawing that would run
 * or fetch something when a browser opens it on its own is refused. It is read by an XML parser, once, from front to end.
 */
export function checkSvg(text: string): { width: number; height: number } | string | null {
  let root: SaxesTagPlain | null = null;
  let depth = 0;
  let style: string | null = null;
  const parser = new SaxesParser<{ xmlns: false; position: false }>({ xmlns: false, position: false });
  parser.on("error", (error) => {
    throw error;
  });
  parser.on("doctype", (doctype) => {
    if (doctype.toLowerCase().includes("<!entity")) because("it defines entities");
  });
  parser.on("processinginstruction", ({ target }) => {
    if (target.toLowerCase() === "xml-stylesheet") because("its styles refer to something outside itself");
  });
  parser.on("opentag", (tag) => {
    root ??= tag;
    if (++depth > mostDepth) because("its parts are nested deeper than those of any drawing");
    checkElement(tag);
    if (local(tag.name) === "style") style = "";
  });
  parser.on("closetag", (tag) => {
    depth--;
    if (style !== null && local(tag.name) === "style") {
      checkStyles(style);
      style = null;
    }
  });
  const more = (piece: string) => {
    if (style !== null) style += piece;
  };
  parser.on("text", more);
  parser.on("cdata", more);
  const isDrawing = () => root !== null && local(root.name) === "svg";
  try {
    parser.write(text.startsWith("\uFEFF") ? text.slice(1) : text).close();
  } catch (error) {
    if (error instanceof Refusal) return error.message;
    if (!isDrawing()) return null;
    return "The SVG is cut off or damaged: it is not well-formed XML. Save it again.";
  }
  return isDrawing() && root ? sizeOf(root) : null;
}

function checkElement({ name, attributes }: SaxesTagPlain): void {
  const element = local(name);
  if (element === "script") because("it holds a script");
  if (foreign.has(element)) because("it holds foreign content");
  for (const [attribute, value] of Object.entries(attributes)) {
    const called = local(attribute);
    if (called.startsWith("on")) because("it holds an event handler that would run code");
    if (value.toLowerCase().replaceAll(/\s/g, "").includes("javascript:"))
      because("it holds a link that would run code");
    if (leading.has(called)) checkAddress(value);
    else checkStyles(value);
    // An animation can set what the attribute itself may not hold.
    if (called === "attributename" && (leading.has(local(value.trim())) || local(value.trim()).startsWith("on")))
      because("an animation in it changes where something leads");
  }
}

function checkAddress(value: string): void {
  const address = value.trim().toLowerCase();
  if (address !== "" && !address.startsWith("#") && !ownPictures.some((own) => address.startsWith(own)))
    because("it refers to something outside itself");
}

/** Styles may refer to the drawing's own parts and nothing else; signs written as escapes could hide that they do. */
function checkStyles(styles: string): void {
  const text = styles.toLowerCase();
  if (text.includes("@import")) because("its styles refer to something outside itself");
  if (text.includes("\\")) because("its styles hold escaped signs");
  for (let at = text.indexOf("url("); at >= 0; at = text.indexOf("url(", at + 4)) {
    const address = text
      .slice(at + 4, at + 200)
      .trimStart()
      .replace(/^["']/, "")
      .trimStart();
    if (!address.startsWith("#")) because("its styles refer to something outside itself");
  }
}

function sizeOf({ attributes }: SaxesTagPlain): { width: number; height: number } | string {
  const said = (name: string) => Object.entries(attributes).find(([each]) => each.toLowerCase() === name)?.[1] ?? "";
  const box = said("viewbox")
    .slice(0, 200)
    .split(/[\s,]+/)
    .filter((each) => each !== "")
    .map(Number);
  const [width, height] = box.length === 4 ? box.slice(2) : [said("width"), said("height")].map(parseFloat);
  if (!width || !height || !(width > 0 && height > 0))
    return "The SVG has neither a view box nor a size in pixels. Add a viewBox.";
  return { width, height };
}
