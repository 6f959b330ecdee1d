import { t } from '../words'
/** What people would call this browser. */
export function deviceName(): string {
  const agent = navigator.userAgent
  const browser = /Firefox\//.test(agent)
    ? 'Firefox'
    : /Edg\//.test(agent)
      ? 'Edge'
      : /Chrom(e|ium)\//.test(agent)
        ? 'Chromium'
        : /Safari\//.test(agent)
          ? 'Safari'
          : t('app.browser')
  const system = /Windows/.test(agent)
    ? 'Windows'
    : /Mac OS/.test(agent)
      ? 'Mac'
      : /Android/.test(agent)
        ? 'Android'
        : /Linux/.test(agent)
          ? 'Linux'
          : t('app.this-computer')
  return t('app.browser-on', { browser, system })
}
