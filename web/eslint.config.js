import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders of the interface, each of which may use those before it; docs/ARCHITECTURE.md says what each is for. */
const layers = ['api', 'units', 'charts', 'workbench', 'fields', 'common', 'parts', 'stages', 'shell'];
const stages = ['brief', 'donor', 'match', 'chain', 'charge', 'compare', 'library', 'list'];

const forbid = (files, folders, message) => ({
  files,
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      { patterns: [{ group: folders.flatMap((f) => [`../${f}/*`, `../../${f}/*`]), message }] },
    ],
  },
});

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  hooks.configs.flat.recommended,
  {
    // A list or a record in a text would be shown as commas or [object Object].
    files: ['src/**'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: { '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: false, allowArray: false }] },
  },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
  ...layers
    .filter((folder) => folder !== 'stages' && folder !== 'shell')
    .map((folder) =>
      forbid([`src/${folder}/**`], layers.slice(layers.indexOf(folder) + 1), 'the arrows between folders run one way'),
    ),
  // Stages know nothing of each other; what two of them need stands below.
  ...stages.map((stage) =>
    forbid(
      [`src/stages/${stage}/**`],
      ['shell', ...stages.filter((s) => s !== stage)],
      'a stage knows neither the shell nor another stage',
    ),
  ),
);
