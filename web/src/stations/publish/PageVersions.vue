<script setup lang="ts">
/** What is out: every version with its files, and a card of the newest for another site. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { doAgain } from '../../api/queries/slowWork'
import AtWork from '../AtWork.vue'
import { dayAndTime } from '../../bench/dates'

const props = defineProps<{ versions: Schemas['VersionView'][]; title: string }>()
const emit = defineEmits<{ changed: [] }>()
const newest = computed(() => props.versions[0])
const card = computed(() => {
  const title = props.title.replaceAll('"', '&quot;')
  const src = `${location.origin}/p/${newest.value?.slug}/card`
  return `<iframe src="${src}" title="${title}" width="640" height="190" style="border: 0"></iframe>`
})
async function makePdf(version: string) {
  await doAgain('pdf', version)
  emit('changed')
}
</script>

<template>
  <h2>Out</h2>
  <table class="plain">
    <tbody>
      <tr v-for="v in versions" :key="v.id">
        <td>
          <strong>Version {{ v.version }}</strong
          ><br /><span class="soft small"
            >{{ dayAndTime(v.published_at) }}{{ v.correction ? ` · corrects: ${v.correction}` : '' }}</span
          >
        </td>
        <td class="links">
          <template v-if="v.withdrawn_at"
            >withdrawn: {{ v.withdrawn_why }} · <a :href="v.path">the notice</a></template
          ><template v-else
            ><a :href="v.path" target="_blank">Page</a
            ><a :href="`${v.path}?print`" target="_blank">Print view</a
            ><a v-if="v.pdf_ready" :href="`${v.path}/method.pdf`">PDF</a
            ><button v-else-if="v.pdf_stopped" class="act quiet" @click="makePdf(v.id)">Make the PDF</button
            ><a :href="`${v.path}/method.md`">Markdown</a><a :href="`${v.path}/recipe.json`">Recipe data</a
            ><a v-if="v.has_data" :href="`${v.path}/data.zip`">Data</a>
            <AtWork
              v-if="!v.pdf_ready && !v.pdf_stopped"
              kind="pdf"
              words="PDF is being made"
              :subject="v.id"
              stops="Stop"
              @stopped="emit('changed')"
          /></template>
        </td>
      </tr>
    </tbody>
  </table>
  <details v-if="newest && !newest.withdrawn_at" class="card">
    <summary>A card for another site</summary>
    <p class="small">
      Its title, its answer and how sure it is, always of the newest version; it runs nothing and asks
      nothing. <a :href="`/p/${newest.slug}/card`" target="_blank">See it</a>
    </p>
    <el-input :model-value="card" type="textarea" readonly autosize aria-label="The card, to copy" />
  </details>
</template>

<style scoped>
.card {
  margin: var(--gap-3) 0 var(--gap-5);
}
.card summary {
  cursor: pointer;
  padding: var(--gap-3) 0;
}
.links a,
.links button {
  margin-right: var(--gap-4);
}
.links a {
  display: inline-block;
  padding: var(--gap-3) 0;
}
</style>
