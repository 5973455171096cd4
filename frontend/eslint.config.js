import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'public/**', 'src/api/schema.d.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  prettier,
  {
    rules: {
      // Prettier breaks what it may; strings and templates that it leaves long are broken by hand.
      'vue/max-len': ['error', { code: 120, template: 120 }],
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      'vue/component-api-style': ['error', ['script-setup']],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
)
