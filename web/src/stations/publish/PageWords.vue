<script setup lang="ts">
/** The words and photos of a page, and what of them does not match the records. */
import { computed } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import PagePhotos from './PagePhotos.vue'
import type { PageForm } from './pageForm'
import PickWords from './PickWords.vue'

const props = defineProps<{
  data: Schemas['PublishView']
  trial: Trial
  /** Keeps what was said of photos; settles once it is stored. */
  keep: (pictures: Schemas['PictureIn'][]) => Promise<boolean>
}>()
const form = defineModel<PageForm>({ required: true })
const emit = defineEmits<{ touched: [] }>()
const kindNow = computed(() => props.data.kinds.find((k) => k.key === (form.value.kind || props.data.kind)))
const unfit = computed(() => props.trial.methods.filter((m) => props.data.unfit[m.id]))
</script>

<template>
  <h2>Words</h2>
  <label class="field"
    >Kind of page<el-select
      v-model="form.kind"
      clearable
      :value-on-clear="''"
      :placeholder="`as the outcome asks: ${kindNow?.name}`"
      @change="emit('touched')"
      ><el-option v-for="k in data.kinds" :key="k.key" :value="k.key" :label="k.name" /></el-select
  ></label>
  <label v-if="kindNow?.one" class="field"
    >Recommend<el-select
      v-model="form.method_id"
      clearable
      placeholder="what the question came to"
      @change="emit('touched')"
      ><el-option
        v-for="m in trial.methods"
        :key="m.id"
        :value="m.id"
        :label="`${m.tag} ${m.name}`"
        :disabled="!!data.unfit[m.id]" /></el-select
  ></label>
  <p v-for="m in unfit" :key="m.id" class="warn small">
    {{ m.tag }} {{ m.name }} may not be told to readers. {{ data.unfit[m.id] }}
  </p>
  <label class="field">Title<el-input v-model="form.title" name="page-title" /></label>
  <label class="field">Introduction<el-input v-model="form.intro" type="textarea" :rows="3" /></label>
  <label class="field"
    >Looks wrong but is normal<el-input v-model="form.normal" type="textarea" :rows="2"
  /></label>
  <p class="small">
    What goes wrong, with its cure, comes from
    <router-link :to="`/defects?trial=${trial.id}`">Troubleshooting</router-link>: of the ways that this page
    writes out, and what this trial saw.
  </p>
  <label class="field">Serving<el-input v-model="form.serving" type="textarea" :rows="2" /></label>
  <label class="field">Keeping<el-input v-model="form.keeping" type="textarea" :rows="2" /></label>
  <label class="field"
    >Lessons that hold whichever way it is cooked, one a line<el-input
      v-model="form.lessons"
      type="textarea"
      :rows="2"
  /></label>
  <label v-if="data.linkable.length" class="field"
    >Pages that belong to it<el-select
      v-model="form.linked"
      multiple
      placeholder="the pan that was chosen first, the sauce that goes with it"
      aria-label="Pages that belong to it"
      @change="emit('touched')"
      ><el-option v-for="p in data.linkable" :key="p.slug" :value="p.slug" :label="p.title" /></el-select
  ></label>
  <PagePhotos :trial="trial.id" :methods="trial.methods" :data="data" :keep="keep" @input.stop @change.stop />
  <PickWords
    v-model="form.signs"
    label="Signs to look for, one a line"
    offer="Noted at the bench; nothing of it is told unless you pick it"
    :words="data.offered.notes ?? []"
    @update:model-value="emit('touched')"
  />
  <PickWords
    v-if="data.offered.quotes?.length || form.quotes"
    v-model="form.quotes"
    label="Tasters’ words, one a line, unchanged"
    offer="Only of those who agreed, without a name"
    :words="data.offered.quotes ?? []"
    @update:model-value="emit('touched')"
  />
  <label class="field"
    >Process stated, where a hazard asks for it (freezing, a tested process)<el-input v-model="form.process"
  /></label>
  <label class="field">Gifts and interests disclosed<el-input v-model="form.disclosure" /></label>
  <div v-if="data.unmatched.length" class="warn small">
    <p>Steps and ingredients do not match. Mend it at Set up or Ask, or leave it if it is right:</p>
    <ul>
      <li v-for="u in data.unmatched" :key="u">{{ u }}</li>
    </ul>
  </div>
  <div v-if="data.opinions.length" class="warn small">
    <p>
      Told as the kitchen’s opinion, since nothing on record is tied to it. Leave it, reword it, or let the
      sentences under <em>{{ kindNow?.name }}</em> say it:
    </p>
    <ul>
      <li v-for="(o, n) in data.opinions" :key="n">{{ o.field }}: “{{ o.words }}”</li>
    </ul>
  </div>
</template>
