<script setup lang="ts">
/** The kitchen's own settings: its name, zone, money, height, and where tasters' links point. */
import { reactive, ref } from 'vue'
import { api, words } from '../api/client'
import { priceText } from '../bench/units'
import { useSession } from '../session'

const session = useSession()
const settings = reactive({
  name: '',
  time_zone: '',
  currency: '',
  price_per_kwh: '',
  public_address: '',
  altitude_m: '0',
})
const settingsProblem = ref('')
const settingsSaved = ref(false)
const settingsVersion = ref('')
async function loadSettings() {
  const { data, response } = await api.GET('/api/v1/kitchen')
  settingsVersion.value = response.headers.get('ETag') ?? ''
  if (data)
    Object.assign(settings, {
      ...data,
      altitude_m: String(data.altitude_m ?? 0),
      price_per_kwh: priceText(data.price_per_kwh),
    })
}
void loadSettings()
async function saveSettings() {
  try {
    const { response } = await api.PUT('/api/v1/kitchen', {
      headers: { 'If-Match': settingsVersion.value },
      body: {
        ...settings,
        price_per_kwh: settings.price_per_kwh || null,
        altitude_m: Number(settings.altitude_m || 0),
      },
    })
    settingsVersion.value = response.headers.get('ETag') ?? ''
    settingsProblem.value = ''
    settingsSaved.value = true
    await session.load()
  } catch (error) {
    settingsSaved.value = false
    settingsProblem.value = words(error)
  }
}
</script>

<template>
  <form class="row" @submit.prevent="saveSettings" @input="settingsSaved = false">
    <label class="field">Name<el-input v-model="settings.name" name="kitchen-name" /></label>
    <label class="field"
      >Time zone<el-input v-model="settings.time_zone" placeholder="Europe/London"
    /></label>
    <label class="field narrow">Currency<el-input v-model="settings.currency" maxlength="3" /></label>
    <label class="field narrow"
      >Price a kWh<el-input v-model="settings.price_per_kwh" inputmode="decimal"
    /></label>
    <label class="field narrow"
      >Height, m<el-input v-model="settings.altitude_m" inputmode="numeric"
    /></label>
    <label class="field"
      >Address for taster links<el-input v-model="settings.public_address" placeholder="as served"
    /></label>
    <button class="act strong end">Save</button><span v-if="settingsSaved" class="soft end">Saved.</span>
  </form>
  <p v-if="settingsProblem" class="bad" role="alert">{{ settingsProblem }}</p>
</template>

<style scoped>
.end {
  align-self: end;
}
.narrow {
  width: 110px;
}
</style>
