// @vitest-environment happy-dom
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import CameraShot from './CameraShot.vue'

function camera(asked: () => Promise<unknown>) {
  Object.defineProperty(navigator, 'mediaDevices', { value: { getUserMedia: asked }, configurable: true })
}
function picture() {
  const stop = vi.fn()
  return { stop, stream: { getTracks: () => [{ stop }] } }
}

describe('the camera', () => {
  afterEach(() => Reflect.deleteProperty(navigator, 'mediaDevices'))

  it('is let go with the part that shows it', async () => {
    const { stop, stream } = picture()
    const given = vi.spyOn(HTMLMediaElement.prototype, 'srcObject', 'set').mockImplementation(() => undefined)
    camera(() => Promise.resolve(stream))
    const shown = mount(CameraShot, { props: { before: '' } })
    await flushPromises()
    expect(given).toHaveBeenLastCalledWith(stream)
    expect(stop).not.toHaveBeenCalled()
    shown.unmount()
    expect(stop).toHaveBeenCalledOnce()
  })

  it('is let go when it is allowed only after the part was closed', async () => {
    const { stop, stream } = picture()
    let allow: (s: unknown) => void = () => undefined
    camera(() => new Promise((done) => (allow = done)))
    const shown = mount(CameraShot, { props: { before: '' } })
    await flushPromises()
    shown.unmount()
    allow(stream)
    await flushPromises()
    expect(stop).toHaveBeenCalledOnce()
  })

  it('says so where it is refused or missing', async () => {
    camera(() => Promise.reject(new Error('denied')))
    const refused = mount(CameraShot, { props: { before: '' } })
    await flushPromises()
    expect(refused.text()).toContain('The camera was not opened: choose a picture.')
    Reflect.deleteProperty(navigator, 'mediaDevices')
    const missing = mount(CameraShot, { props: { before: '' } })
    await flushPromises()
    expect(missing.text()).toContain('choose a picture.')
    expect(missing.find('.frame').attributes('style')).toContain('display: none')
  })
})
