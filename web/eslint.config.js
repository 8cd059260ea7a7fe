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
  // A component is looked over at once.
  { files: ['**/*.vue'], rules: { 'max-lines': ['error', 300] } },
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
        {
          selector: 'Identifier[name=/^(setInterval|localStorage|sessionStorage)$/]',
          message: 'Clocks and storage of the browser come from @vueuse/core.',
        },
      ],
      // Parts show: what they are given is worked out before.
      'vue/max-props': ['error', { maxProps: 8 }],
      'vue/no-restricted-syntax': [
        'error',
        {
          selector: 'VElement CallExpression[callee.property.name=/^(filter|find|reduce|sort)$/]',
          message: 'A template looks nothing up: a computed or a function of the script does.',
        },
        {
          selector: 'VElement ConditionalExpression ConditionalExpression',
          message: 'A template decides one thing at a time: name the words in the script.',
        },
      ],
    },
  },
  // Tests put the browser into the state that they ask about.
  { files: ['**/*.test.ts'], rules: { 'no-restricted-syntax': 'off' } },
)
