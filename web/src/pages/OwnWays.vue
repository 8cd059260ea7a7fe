<script setup lang="ts">
/** How a person measures, writes and says things; theirs alone, on every device. */
import { useSession } from '../session'

const session = useSession()
</script>

<template>
  <section class="ways" aria-label="How you write and say things">
    <label class="field"
      >Units<el-select
        :model-value="session.me?.units"
        @change="(units: 'metric' | 'us') => session.prefer({ units })"
        ><el-option value="metric" label="metric" /><el-option value="us" label="US" /></el-select
    ></label>
    <label class="field"
      >Days<el-select
        :model-value="session.me?.dates"
        @change="(dates: 'day_first' | 'month_first' | 'iso') => session.prefer({ dates })"
        ><el-option value="day_first" label="28 Nov 2026" /><el-option
          value="month_first"
          label="Nov 28, 2026" /><el-option value="iso" label="2026-11-28" /></el-select
    ></label>
    <label class="field"
      >Times<el-select
        :model-value="session.me?.clock"
        @change="(clock: '24' | '12') => session.prefer({ clock })"
        ><el-option value="24" label="18:41" /><el-option value="12" label="6:41 pm" /></el-select
    ></label>
    <label class="field"
      >Words<el-select
        :model-value="session.me?.words"
        :empty-values="[null, undefined]"
        @change="(words: '' | 'british' | 'american') => session.prefer({ words })"
        ><el-option value="" label="as the kitchen wrote them" /><el-option
          value="british"
          label="grill, hob" /><el-option value="american" label="broiler, stovetop" /></el-select
    ></label>
    <label class="field"
      >Dark<el-switch
        :model-value="session.me?.dark"
        aria-label="Dark look for the bench"
        @change="(v: string | number | boolean) => session.prefer({ dark: !!v })"
    /></label>
  </section>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-4);
}
.field {
  width: 160px;
}
</style>
