/**
 * The key of every answer that screens keep, each written once: a key that is wider than another stands for
 * both, so `queryKeys.trials()` asks for every sheet of the list again.
 */
import type { MaybeRef } from 'vue'

/** A part that may change: the answer is asked for again when it does. */
type Part = MaybeRef<string | number | boolean>
const key =
  (name: string) =>
  (...parts: Part[]) => [name, ...parts]

export const queryKeys = {
  accounts: key('accounts'),
  appliances: key('appliances'),
  appliancesWords: key('appliances-words'),
  asDone: key('as-done'),
  audit: key('audit'),
  claims: key('claims'),
  cueChips: key('cue-chips'),
  decision: key('decision'),
  defects: key('defects'),
  defectsSeen: key('defects-seen'),
  designHistory: key('design-history'),
  devices: key('devices'),
  /** One of: readiness, offers, jobs, worth; all of them where none is named. */
  fairness: key('fairness'),
  family: key('family'),
  found: key('found'),
  guide: key('guide'),
  guesses: key('guesses'),
  home: key('home'),
  kinds: key('kinds'),
  labelStocks: key('label-stocks'),
  lastTimes: key('last-times'),
  maps: key('maps'),
  measurements: key('measurements'),
  measures: key('measures'),
  outlook: key('outlook'),
  pagesAtRisk: key('pages-at-risk'),
  pans: key('pans'),
  past: key('past'),
  people: key('people'),
  pieces: key('pieces'),
  practice: key('practice'),
  probeCurves: key('probe-curves'),
  probes: key('probes'),
  promises: key('promises'),
  publication: key('publication'),
  readerTries: key('reader-tries'),
  rehearsal: key('rehearsal'),
  safety: key('safety'),
  scales: key('scales'),
  schools: key('schools'),
  shifts: key('shifts'),
  slowWork: key('slow-work'),
  stations: key('stations'),
  takenAway: key('taken-away'),
  tastings: key('tastings'),
  techniqueLibrary: key('technique-library'),
  techniques: key('techniques'),
  trial: key('trial'),
  usedByEye: key('used-by-eye'),
  trialFilters: key('trial-filters'),
  trials: key('trials'),
  trialsShort: key('trials-short'),
  workbench: key('workbench'),
}
