import { create } from 'xmlbuilder2'
import { bankText, NOT_PROVIDED } from '#core/formats/bankText.ts'
import { sumDecimals } from '#core/money/decimal.ts'

export interface PaymentOrder {
  readonly messageId: string
  readonly createdAt: string
  readonly executeOn: string
  /** The account that pays in a currency. */
  readonly debtor: (currency: string) => { readonly name: string; readonly iban: string; readonly bic: string }
  /** The identification of the payments in a currency. */
  readonly batchId: (currency: string) => string
  readonly payments: readonly {
    readonly endToEndId: string
    readonly amount: string
    readonly currency: string
    readonly holder: string
    readonly iban: string
    readonly bic: string
    readonly remittance: string
  }[]
}

/** Longest name and longest unstructured remittance information (ISO 20022, Max70Text as the EPC uses it, Max140Text). */
const NAME = 70
const REMITTANCE = 140

/**
 * Writes a customer credit transfer initiation, ISO 20022 pain.001.001.09. Payments are grouped by currency into payment informations; the
 * control sum adds the amounts as numbers, whatever the currency, as the standard wants it. Names are written in characters that every bank
 * takes.
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
            InitgPty: { Nm: bankText(order.debtor(currencies[0]!).name, NAME) },
          },
          PmtInf: currencies.map(currency => information(order, currency)),
        },
      },
    },
  ).end({ prettyPrint: true })
}

function information(order: PaymentOrder, currency: string) {
  const payments = order.payments.filter(payment => payment.currency === currency)
  const debtor = order.debtor(currency)
  return {
    PmtInfId: order.batchId(currency),
    PmtMtd: 'TRF',
    NbOfTxs: String(payments.length),
    CtrlSum: controlSum(payments),
    ...(currency === 'EUR' ? { PmtTpInf: { SvcLvl: { Cd: 'SEPA' } } } : {}),
    ReqdExctnDt: { Dt: order.executeOn },
    Dbtr: { Nm: bankText(debtor.name, NAME) },
    DbtrAcct: { Id: { IBAN: debtor.iban } },
    DbtrAgt: { FinInstnId: institution(debtor.bic) },
    ChrgBr: 'SLEV',
    CdtTrfTxInf: payments.map(payment => ({
      PmtId: { EndToEndId: payment.endToEndId },
      Amt: { InstdAmt: { '@Ccy': payment.currency, '#': payment.amount } },
      ...(payment.bic ? { CdtrAgt: { FinInstnId: institution(payment.bic) } } : {}),
      Cdtr: { Nm: bankText(payment.holder, NAME) },
      CdtrAcct: { Id: { IBAN: payment.iban } },
      RmtInf: { Ustrd: bankText(payment.remittance, REMITTANCE) },
    })),
  }
}

/** A bank by its identifier, or as not provided where only the account is known (EPC 132-08, IBAN only). */
const institution = (bic: string) => (bic ? { BICFI: bic } : { Othr: { Id: NOT_PROVIDED } })

function controlSum(payments: readonly { readonly amount: string }[]): string {
  const total = sumDecimals(payments.map(payment => payment.amount))
  return total.toFixed(Math.max(2, total.decimalPlaces()))
}
