-- What a rule makes of the lines that it means is said in one word, with what belongs to that word.
update "line_rule" set "outcome" = case
  when ("outcome" ->> 'leave')::boolean then '{"is": "leave"}'::jsonb
  when "outcome" ->> 'partner' <> ''
    then jsonb_build_object('is', 'partner', 'partner', "outcome" -> 'partner')
  when "outcome" ->> 'kind' <> '' then jsonb_build_object('is', 'kind', 'kind', "outcome" -> 'kind')
  else jsonb_build_object('is', 'coding', 'coding', "outcome" -> 'coding') end
where not "outcome" ? 'is';
