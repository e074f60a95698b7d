/**
 * Every scene is a layer of its own that is drawn from the start, too faint to be seen: its pictures are decoded and lie
 * in the graphics memory, its text is drawn, and when its frame comes nothing changes but how much of the layer shows.
 * So does an item that comes or goes within its scene.
 *
 * Everything drawn on a stage is styled from here, inside a shadow root, so that no page around it changes a pixel. It is
 * a layer of its own, so that edges are smoothed the same wherever on a page it stands.
 */
export const stageStyle = `
:host { display: block; position: relative; overflow: hidden; container-type: size; contain: strict; will-change: transform; }
.scene { position: absolute; inset: 0; opacity: 0.0001; will-change: opacity; pointer-events: none; font-family: "Atkinson Hyperlegible Next Variable", system-ui, sans-serif; line-height: 1.3; font-style: normal; letter-spacing: 0; }
.scene.shown { opacity: 1; pointer-events: auto; }
.item { position: absolute; translate: -50% -50%; user-select: none; }
.item[hidden] { display: none; }
.text { white-space: pre-wrap; overflow-wrap: break-word; }
.text p, .text h2, .text ul, .text ol { margin: 0; font-size: inherit; font-weight: inherit; }
.text h2 { font-weight: 700; }
.text ul, .text ol { padding-inline-start: 1.4em; }
.item.timed { will-change: opacity; }
.scene .waiting { opacity: 0.0001 !important; pointer-events: none; }
.image img, .video video { display: block; width: 100%; height: 100%; object-fit: contain; }
.image.missing, .video.missing, .element.missing { background: repeating-linear-gradient(45deg, #f8e8dc 0 1cqmin, #ffffff 1cqmin 2cqmin); outline: 0.5cqmin dashed #b3261e; outline-offset: -0.5cqmin; }
.image.missing img, .video.missing video { display: none; }
.shape svg, .element svg { display: block; width: 100%; height: 100%; overflow: visible; }
.grating { overflow: hidden; }
.grating canvas { position: absolute; top: 0; height: 100%; }
.element { position: absolute; translate: -50% -50%; display: grid; place-items: center; }
.element img { width: 100%; height: 100%; object-fit: contain; }
.letters { line-height: 1; white-space: nowrap; }
.sound { display: none; }
.web { background: #ffffff; color: #17211e; }
.web iframe { display: block; width: 100%; height: 100%; border: 0; }
.web p { margin: 0; padding: 2cqmin; font-size: 3cqmin; overflow-wrap: anywhere; }
.button { font: inherit; font-weight: 600; border: 0.3cqmin solid #ffffff; border-radius: 1cqmin; padding: 0 1cqmin; cursor: pointer; }
.button:focus-visible, .entry :focus-visible, .slider input:focus-visible { outline: 0.5cqmin solid currentcolor; outline-offset: 0.4cqmin; }
.entry input, .entry textarea { box-sizing: border-box; width: 100%; height: 100%; margin: 0; padding: 0.6cqmin 1.2cqmin; font: inherit; font-size: inherit; color: #17211e; background: #ffffff; border: 0.25cqmin solid #55635e; border-radius: 0.8cqmin; resize: none; user-select: text; }
.entry [aria-invalid="true"] { border-color: #b3261e; }
.slider input { appearance: none; box-sizing: border-box; display: block; width: 100%; height: 5cqmin; margin: 0; background: transparent; cursor: pointer; }
.slider input::-webkit-slider-runnable-track { height: 0.8cqmin; border-radius: 0.4cqmin; background: color-mix(in srgb, currentcolor 55%, transparent); }
.slider input::-webkit-slider-thumb { appearance: none; width: 2.4cqmin; height: 4.4cqmin; margin-top: -1.8cqmin; border-radius: 0.6cqmin; background: #0e5a4e; border: 0.25cqmin solid #ffffff; }
.slider input::-moz-range-track { height: 0.8cqmin; border-radius: 0.4cqmin; background: currentcolor; }
.slider input::-moz-range-thumb { width: 2.4cqmin; height: 4.4cqmin; border-radius: 0.6cqmin; background: #0e5a4e; border: 0.25cqmin solid #ffffff; }
.slider input.untouched::-webkit-slider-thumb { visibility: hidden; }
.slider input.untouched::-moz-range-thumb { visibility: hidden; }
.ends { display: flex; justify-content: space-between; gap: 2cqmin; }
`;

/** Makes an element a stage; its scenes go into the shadow root it gives back. */
export function makeStage(host: HTMLElement, color: string): ShadowRoot {
  const root = host.shadowRoot ?? host.attachShadow({ mode: "open" });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(stageStyle);
  root.adoptedStyleSheets = [sheet];
  host.style.backgroundColor = color;
  return root;
}
