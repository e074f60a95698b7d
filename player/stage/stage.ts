/** Everything drawn on a stage is styled from here, inside a shadow root, so that no page around it changes a pixel. */
const style = `
:host { display: block; position: relative; overflow: hidden; container-type: size; contain: strict; }
.scene { position: absolute; inset: 0; visibility: hidden; font-family: "Atkinson Hyperlegible Next Variable", system-ui, sans-serif; line-height: 1.3; font-style: normal; letter-spacing: 0; }
.scene.shown { visibility: visible; }
.item { position: absolute; translate: -50% -50%; user-select: none; }
.item[hidden] { display: none; }
.text { white-space: pre-wrap; overflow-wrap: break-word; }
.text p, .text h2, .text ul, .text ol { margin: 0; font-size: inherit; font-weight: inherit; }
.text h2 { font-weight: 700; }
.text ul, .text ol { padding-inline-start: 1.4em; }
.image img { display: block; width: 100%; height: 100%; object-fit: contain; }
.image.missing { background: repeating-linear-gradient(45deg, #f8e8dc 0 1cqmin, #ffffff 1cqmin 2cqmin); outline: 0.5cqmin dashed #b3261e; outline-offset: -0.5cqmin; }
.image.missing img { display: none; }
.shape svg { display: block; width: 100%; height: 100%; overflow: visible; }
`;

/** Makes an element a stage; its scenes go into the shadow root it gives back. */
export function makeStage(host: HTMLElement, color: string): ShadowRoot {
  const root = host.shadowRoot ?? host.attachShadow({ mode: "open" });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(style);
  root.adoptedStyleSheets = [sheet];
  host.style.backgroundColor = color;
  return root;
}
