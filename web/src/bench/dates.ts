/** Days and times as the person writes them. */
import { useSession } from '../session'

/** A day first, a month first, or year, month and day in figures: how each is written by a locale. */
const LOCALE = { day_first: 'en-GB', month_first: 'en-US', iso: 'sv-SE' } as const
const mine = () => useSession().me
const locale = () => LOCALE[mine()?.dates ?? 'day_first']
const inFigures = () => mine()?.dates === 'iso'
type Moment = string | number | Date
/** A moment as text or Date, or in seconds since 1970 as the bench has it. */
const date = (at: Moment) => (typeof at === 'number' ? new Date(at * 1000) : new Date(at))

/** 18:41, whoever looks. */
export const clock24 = (at: Moment, zone?: string): string =>
  date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: zone })
/** 18:41, or 6:41 pm. */
export function clock(at: Moment, zone?: string): string {
  if (mine()?.clock !== '12') return clock24(at, zone)
  const said = date(at).toLocaleTimeString('en-US', {
    hour: 'numeric',
    minute: '2-digit',
    hour12: true,
    timeZone: zone,
  })
  return said.replace(/ |\u202f/g, ' ').replace(/[AP]M$/, (m) => m.toLowerCase())
}
/** 28 Nov 2026, Nov 28, 2026, or 2026-11-28. */
export function day(at: Moment, zone?: string): string {
  if (inFigures()) return date(at).toLocaleDateString(locale(), { timeZone: zone })
  return date(at).toLocaleDateString(locale(), {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    timeZone: zone,
  })
}
/** The same without its year, for what lies near. */
export function shortDay(at: Moment, zone?: string): string {
  if (inFigures()) return day(at, zone)
  return date(at).toLocaleDateString(locale(), { day: 'numeric', month: 'short', timeZone: zone })
}
/** Sat 28 Nov: with its day of the week. */
export function weekday(at: Moment, zone?: string): string {
  const name = date(at).toLocaleDateString('en-GB', { weekday: 'short', timeZone: zone })
  return `${name}${mine()?.dates === 'month_first' ? ',' : ''} ${shortDay(at, zone)}`
}
export const dayAndTime = (at: Moment, zone?: string): string => `${day(at, zone)}, ${clock(at, zone)}`

/** How a box for a day and a time shows what is in it. */
export const boxFormat = (): string => {
  const days = { day_first: 'D MMM YYYY', month_first: 'MMM D, YYYY', iso: 'YYYY-MM-DD' }
  return `${days[mine()?.dates ?? 'day_first']} ${mine()?.clock === '12' ? 'h:mm a' : 'HH:mm'}`
}
/** The word of one's own side of the sea. */
export const sideWord = (british: string, american: string): string =>
  mine()?.words === 'american' ? american : british
