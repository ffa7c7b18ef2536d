import { create } from 'xmlbuilder2'

export interface PaymentOrder {
  readonly messageId: string
  readonly createdAt: string
  readonly executeOn: string
  readonly debtor: { name: string; iban: string; bic: string }
  readonly payments: readonly { endToEndId: string; amount: string; currency: string; holder: string; iban: string; bic: string; remittance: string }[]
}

/** Only characters of the SWIFT set x, which every bank takes (ISO 20022 usage rules of the EPC). */
const plain = (text: string, most: number): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9/\-?:().,'+ ]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, most)

/**
 * Writes a customer credit transfer initiation, ISO 20022 pain.001.001.09. Payments are grouped by currency into payment informations; the
 * control sum adds the amounts as numbers, whatever the currency, as the standard wants it.
 */
export function writePain001(order: PaymentOrder): string {
  const currencies = [...new Set(order.payments.map(payment => payment.currency))].sort()
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Document: {
        '@xmlns': 'urn:iso:std:iso:20022:tech:xsd:pain.001.001.09',
        CstmrCdtTrfInitn: {
          GrpHdr: {
            MsgId: order.messageId,
            CreDtTm: order.createdAt.slice(0, 19),
            NbOfTxs: String(order.payments.length),
            CtrlSum: controlSum(order.payments),
            InitgPty: { Nm: plain(order.debtor.name, 70) },
          },
          PmtInf: currencies.map(currency => information(order, currency)),
        },
      },
    },
  ).end({ prettyPrint: true })
}

function information(order: PaymentOrder, currency: string) {
  const payments = order.payments.filter(payment => payment.currency === currency)
  return {
    PmtInfId: `${order.messageId}-${currency}`,
    PmtMtd: 'TRF',
    NbOfTxs: String(payments.length),
    CtrlSum: controlSum(payments),
    ...(currency === 'EUR' ? { PmtTpInf: { SvcLvl: { Cd: 'SEPA' } } } : {}),
    ReqdExctnDt: { Dt: order.executeOn },
    Dbtr: { Nm: plain(order.debtor.name, 70) },
    DbtrAcct: { Id: { IBAN: order.debtor.iban } },
    DbtrAgt: { FinInstnId: { BICFI: order.debtor.bic } },
    ChrgBr: 'SLEV',
    CdtTrfTxInf: payments.map(payment => ({
      PmtId: { EndToEndId: payment.endToEndId },
      Amt: { InstdAmt: { '@Ccy': payment.currency, '#': payment.amount } },
      ...(payment.bic ? { CdtrAgt: { FinInstnId: { BICFI: payment.bic } } } : {}),
      Cdtr: { Nm: plain(payment.holder, 70) },
      CdtrAcct: { Id: { IBAN: payment.iban } },
      RmtInf: { Ustrd: plain(payment.remittance, 140) },
    })),
  }
}

/** Adds decimal texts exactly, in thousandths. */
function controlSum(payments: readonly { amount: string }[]): string {
  const total = payments.reduce((sum, payment) => sum + thousandths(payment.amount), 0n)
  const text = total.toString().padStart(4, '0')
  return `${text.slice(0, -3)}.${text.slice(-3)}`.replace(/0$/, '')
}

const thousandths = (amount: string): bigint => {
  const [whole = '0', part = ''] = amount.split('.')
  return BigInt(whole) * 1000n + BigInt(part.padEnd(3, '0'))
}
