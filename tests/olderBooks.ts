/** Leaves books as they were before receipts of goods had a name of their own. */
export const BEFORE_GOODS_RECEIPTS = [
  // The name of money that comes in since.
  "delete from number_series where code = 'receipt'",
  "alter table goods_receipt_line rename to receipt_line",
  "alter sequence goods_receipt_line_id_seq rename to receipt_line_id_seq",
  ...["receipt_line_receipt_id_document_id_fk", "receipt_line_order_line_id_order_line_id_fk"].map(
    (name) => `alter table receipt_line rename constraint goods_${name} to ${name}`,
  ),
  `alter table grni_entry rename constraint grni_entry_receipt_line_id_goods_receipt_line_id_fk
    to grni_entry_receipt_line_id_receipt_line_id_fk`,
  ...["receipt_line_receipt_id_index", "receipt_line_order_line_id_index"].map(
    (name) => `alter index goods_${name} rename to ${name}`,
  ),
  "alter table document drop constraint document_kind",
  "alter table document disable trigger user",
  "update document set kind = 'receipt' where kind = 'goods-receipt'",
  "alter table document enable trigger user",
  "alter table document add constraint document_kind check (kind <> 'goods-receipt')",
  `insert into number_series (code, prefix, digits)
    select 'receipt', prefix, digits from number_series where code = 'goods-receipt'`,
  "alter table number_counter disable trigger user",
  "update number_counter set series = 'receipt' where series = 'goods-receipt'",
  "alter table number_counter enable trigger user",
  "delete from number_series where code = 'goods-receipt'",
  "delete from migration where tag like '0049%'",
];

/** Leaves books as they were before documents that come again had a table of their own. */
export const BEFORE_RECURRING_DOCUMENTS = [
  `create table recurring_journal (
    document_id bigint primary key references document (id) on delete cascade,
    content jsonb not null, rhythm jsonb not null, skipped jsonb default '{}' not null,
    version integer default 1 not null)`,
  `create table recurring_invoice (
    document_id bigint primary key references document (id) on delete cascade,
    content jsonb not null, version integer default 1 not null,
    skipped jsonb default '{}' not null, updated_by integer not null,
    updated_at timestamp with time zone not null)`,
  `insert into recurring_journal select r.document_id, r.content, r.rhythm, r.skipped, r.version
    from recurring_document r join document d on d.id = r.document_id where d.kind = 'recurring'`,
  `insert into recurring_invoice
    select r.document_id,
      r.content || jsonb_build_object('rhythm', r.rhythm, 'name', d.title),
      r.version, r.skipped, r.updated_by, r.updated_at
    from recurring_document r join document d on d.id = r.document_id
    where d.kind = 'recurring-invoice'`,
  "drop table recurring_document",
  "delete from migration where tag like '0052%' or tag like '0053%'",
];
