import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['src/api/schema.generated.ts', 'src/components.generated.d.ts'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  // Line breaks and spaces are Prettier's.
  prettier,
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'max-len': ['error', { code: 110, ignoreUrls: true }],
      'no-restricted-syntax': [
        'error',
        {
          selector: "Property[key.name='queryKey'] > ArrayExpression",
          message: 'Keys stand in api/queries/keys.ts, each once.',
        },
      ],
    },
  },
)
