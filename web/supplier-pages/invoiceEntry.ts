import type { ResponseOf } from '#contract/endpoint.ts'
import type { SupplierOrder } from '#contract/order/supplierOrders.ts'
import { t } from '#web/shared/language.ts'

export type OwnOrder = ResponseOf<typeof SupplierOrder>

/** An invoice as it is written on the supplier's pages. */
export interface InvoiceEntry {
  number: string
  issueDate: string
  freight: string
  taxCategory: 'S' | 'AE' | 'K' | 'Z' | 'E' | 'G' | 'O'
  taxRate: string
  quantities: Record<string, string>
  prices: Record<string, string>
}
/** Duty or tax categories of UNCL5305, as EN 16931 takes them. */
export const taxName = (code: InvoiceEntry['taxCategory']): string =>
  ({
    S: t('Standard rate'),
    AE: t('Reverse charge'),
    K: t('Delivery inside the EU'),
    G: t('Export'),
    Z: t('Zero rate'),
    E: t('Exempt'),
    O: t('Not subject to VAT'),
  })[code]
export const TAX_CATEGORIES = ['S', 'AE', 'K', 'G', 'Z', 'E', 'O'] as const
