import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import regexp from "eslint-plugin-regexp";
import tseslint from "typescript-eslint";

const layers = ["core", "bridge", "player", "server", "workers", "app", "cli", "demo", "tests"];
/** What each layer may import of ours. Everything else is refused, by alias and by relative path. */
const mayImport = {
  core: [],
  bridge: ["core"],
  player: ["core"],
  workers: ["core"],
  server: ["core"],
  demo: ["core", "server"],
  cli: ["core", "bridge", "server", "demo"],
  app: ["core", "player", "server", "workers", "demo"],
};
const outside = {
  core: ["react", "react-dom", "react-router", "node:*", "express", "better-sqlite3"],
  player: ["react", "react-dom", "react-router", "node:*"],
};

/** The folders of core/, from the ground up: each may import those before it, so that there are no circles. */
const coreFolders = [
  ...[
    "shape",
    "rights",
    "random",
    "media",
    "wording",
    "collect",
    "adaptive",
    "values",
    "arrangements",
    "limits",
    "items",
    "devices",
    "questions",
  ],
  ...[
    "passages",
    "rules",
    "markers",
    "scores",
    "gaze",
    "design",
    "records",
    "order",
    "pools",
    "allocate",
    "timing",
    "describe",
    "compile",
    "balance",
    "run",
    "simulate",
  ],
  ...["tidy", "stats", "bridge", "persons", "paper", "exclusions", "export", "check"],
];

const isInCore = (folder) => ({
  group: [`**/../${folder}/**`, `~/core/${folder}/**`],
  message: `core/${folder}/ stands above this folder of core/: see the order of folders in docs/architecture.md.`,
});
const refused = (layer) => {
  const allowed = mayImport[layer];
  return [
    {
      group: layers
        .filter((each) => each !== layer && !allowed.includes(each))
        .flatMap((each) => [`~/${each}/*`, `~/${each}/**`, `**/../${each}/**`]),
      message: `${layer}/ may import ${allowed.length > 0 ? `only ${allowed.join(", ")}` : "nothing"} of ours: see the directions in docs/architecture.md.`,
    },
    ...(outside[layer]
      ? [{ group: outside[layer], message: `${layer}/ runs without this: see docs/architecture.md.` }]
      : []),
  ];
};
const rule = (files, patterns) => ({
  files,
  ignores: ["**/*.test.ts"],
  rules: { "no-restricted-imports": ["error", { patterns }] },
});

const directions = [
  ...Object.keys(mayImport).map((layer) => rule([`${layer}/**/*.{ts,tsx}`], refused(layer))),
  ...coreFolders.map((folder, index) =>
    rule([`core/${folder}/**/*.ts`], [...refused("core"), ...coreFolders.slice(index + 1).map(isInCore)]),
  ),
];

export default tseslint.config(
  { ignores: ["build/**", ".react-router/**", "node_modules/**", "lapwing-data/**", "lapwing-demo/**"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    files: ["**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "@typescript-eslint/no-non-null-assertion": "error",
      "@typescript-eslint/no-empty-object-type": ["error", { allowInterfaces: "with-single-extends" }],
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
      "@typescript-eslint/no-confusing-void-expression": "off",
      "@typescript-eslint/no-invalid-void-type": "off",
      "@typescript-eslint/no-dynamic-delete": "off",
      eqeqeq: ["error", "always", { null: "ignore" }],
    },
  },
  {
    files: ["core/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-globals": ["error", "document", "window", "performance", "fetch", "process"],
      "no-restricted-properties": [
        "error",
        { object: "Math", property: "random", message: "Randomness is passed in." },
        { object: "Date", property: "now", message: "Time is passed in." },
      ],
    },
  },
  { files: ["**/*.test.ts", "tests/**/*.ts"], rules: { "@typescript-eslint/no-non-null-assertion": "off" } },
  {
    files: ["**/*.{js,mjs}"],
    languageOptions: { globals: { process: "readonly", console: "readonly", document: "readonly" } },
  },
  {
    files: ["**/*.{ts,tsx,js,mjs}"],
    plugins: { regexp },
    rules: {
      // Texts from outside meet our expressions: none may take longer than their length says.
      "regexp/no-super-linear-backtracking": ["error", { report: "potential" }],
      "regexp/no-super-linear-move": ["error", { report: "potential", ignoreSticky: false }],
      "regexp/no-misleading-capturing-group": "error",
    },
  },
  ...directions,
);
