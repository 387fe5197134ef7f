// The quotes of a resource as a ledger table.
import { computed, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useProjectId } from '../../api/project'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { day, money, shown, typeable } from '../../desk/numbers'

type Quote = Schemas['QuoteView']
const numeric = (text: string) => text.trim().replace(/(?<=\d)[\s\u00a0](?=\d)/g, '')
const valueOf = (key: string, text: string) =>
  key === 'valid_to'
    ? text || null
    : key === 'price'
      ? numeric(text)
      : key === 'contains' || key === 'least'
        ? numeric(text) || null
        : text

export function useQuotes(resource: Ref<Schemas['ResourceView'] | null>) {
  const projectId = useProjectId()
  const { data: project } = useProject()
  const at = (quote: number) => ({ params: { path: { project_id: projectId.value, quote } } })
  const stage = useLedgerStage<Quote>(() => resource.value?.quotes ?? [], {
    write: (quote, version, fields) =>
      ask(
        client.PATCH('/api/projects/{project_id}/quotes/{quote}', {
          ...at(quote.id),
          body: { version, ...fields },
        }),
      ),
    make(fields) {
      const [now, date] = [resource.value, project.value?.price_date]
      if (!now || !date) return 'Choose a resource first.'
      const body = { supplier: 'Supplier', price: '0', quoted_on: date, ...fields } as Schemas['NewQuote']
      return () =>
        ask(
          client.POST('/api/projects/{project_id}/resources/{resource}/quotes', {
            params: { path: { project_id: projectId.value, resource: now.id } },
            body,
          }),
        )
    },
    drop: (quote) => ask(client.DELETE('/api/projects/{project_id}/quotes/{quote}', at(quote.id))),
    ref: (quote) => `quote:${quote.id}`,
    fields: (key, text) => ({ [key]: valueOf(key, text) }),
  })
  const walked = (q: Quote) => `quote:${q.id}`

  const columns = computed<Column<Quote>[]>(() => [
    { key: 'supplier', label: 'Supplier', text: (q) => q.supplier, wrap: true, hint: 'add a quote' },
    {
      key: 'price',
      label: `Price ${project.value?.currency ?? ''}`,
      number: true,
      width: '70px',
      text: (q) => typeable(q.price),
      show: (q) => money(q.price),
      ref: walked,
    },
    { key: 'unit', label: 'for one', width: '76px', text: (q) => q.unit, wrap: true },
    {
      key: 'contains',
      label: `holds ${resource.value?.unit ?? ''}`,
      number: true,
      width: '54px',
      text: (q) => (q.contains ? typeable(q.contains) : ''),
      show: (q) => (q.holds ? shown(q.holds, 0, 4) : '?'),
      title: (q) => (q.says ? q.says : q.contains ? 'Typed' : 'Read from what one is'),
    },
    {
      key: 'per_unit',
      label: `per ${resource.value?.unit ?? ''}`,
      number: true,
      width: '98px',
      unit: (q) => (q.used ? 'used' : q.validity === 'valid' ? '' : q.validity),
      show: (q) => (q.per_unit ? shown(q.per_unit, 2, 4) : ''),
      ref: walked,
    },
    {
      key: 'quoted_on',
      label: 'Quoted on',
      width: '78px',
      text: (q) => day(q.quoted_on),
      show: (q) => day(q.quoted_on, true),
    },
    {
      key: 'valid_to',
      label: 'Valid to',
      width: '78px',
      text: (q) => day(q.valid_to),
      show: (q) => day(q.valid_to, true) || 'no end',
    },
    {
      key: 'least',
      label: 'at least',
      number: true,
      width: '44px',
      text: (q) => (q.least ? typeable(q.least) : ''),
      show: (q) => (q.least ? shown(q.least, 0, 2) : ''),
      title: () => 'How many of them are sold at least',
    },
  ])
  const rows = computed<Row<Quote>[]>(() => [
    ...(resource.value?.quotes ?? []).map((q): Row<Quote> => ({
      id: q.id,
      kind: 'line',
      data: q,
      struck: q.validity !== 'valid' && !q.used,
    })),
    ...stage.ghost.value,
  ])
  return { ...stage, columns, rows }
}
