/** Styles of components and of the sheets; names of classes are words, as in the rest of the house. */
export default {
  extends: ['stylelint-config-standard', 'stylelint-config-recommended-vue'],
  rules: {
    'selector-class-pattern': null,
    // Older tablets read min-width, and the build resolves packages in strings.
    'media-feature-range-notation': 'prefix',
    'import-notation': 'string',
    // Rules stand close together, in groups of their own.
    'rule-empty-line-before': null,
    'at-rule-empty-line-before': null,
    'declaration-empty-line-before': null,
    'custom-property-empty-line-before': null,
    'comment-empty-line-before': null,
    // Deep styles of Element Plus come before the plain ones where that reads better.
    'no-descending-specificity': null,
    // Type and space are steps of one scale, colours have names: all of them in look.css.
    'declaration-property-value-disallowed-list': {
      '/^(font|font-size|gap|row-gap|column-gap|margin.*|padding.*)$/': ['/(^|\\s)([2-9]|[1-9]\\d)px/'],
    },
    'color-no-hex': true,
  },
  overrides: [{ files: ['src/look/look.css'], rules: { 'color-no-hex': null } }],
}
