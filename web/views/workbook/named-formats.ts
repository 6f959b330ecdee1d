import { t } from '../../words/all'

/** Formats offered by name. */
export const namedFormats: { label: string; format: string | undefined; example: string }[] = [
  { label: t('sheet.as-typed'), format: undefined, example: '1234.5' },
  { label: t('sheet.whole-number'), format: '#,##0', example: '1,235' },
  { label: t('sheet.two-decimals'), format: '#,##0.00', example: '1,234.50' },
  { label: t('sheet.percent'), format: '0%', example: '12%' },
  { label: t('common.date'), format: 'yyyy-mm-dd', example: '2026-10-14' },
  { label: t('sheet.date-and-time'), format: 'yyyy-mm-dd hh:mm', example: '2026-10-14 09:30' },
  { label: t('sheet.time'), format: 'hh:mm', example: '09:30' },
  { label: t('common.text'), format: '@', example: '0012' },
]
