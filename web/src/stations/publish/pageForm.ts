/** The words of a page as they are being written. */
import type { Schemas } from '../../api/client'

const TEXTS = [
  'title',
  'intro',
  'normal',
  'serving',
  'keeping',
  'disclosure',
  'process',
  'signs',
  'quotes',
  'lessons',
] as const
export type PageForm = Record<(typeof TEXTS)[number], string> & {
  method_id: string | null
  kind: Schemas['PageKind'] | ''
  linked: string[]
}
export const pageForm = (d?: Schemas['PublishView']): PageForm => ({
  ...(Object.fromEntries(TEXTS.map((k) => [k, d?.texts[k] ?? ''])) as Record<(typeof TEXTS)[number], string>),
  method_id: d?.method_id ?? null,
  kind: (d?.texts.kind ?? '') as PageForm['kind'],
  linked: (d?.texts.linked ?? '').split('\n').filter(Boolean),
})
