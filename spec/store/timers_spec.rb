# frozen_string_literal: true

RSpec.describe Yenvo::Store::Timers do
  # All but a few of them far ahead, of three rules.
  def fill(rule)
    db.run <<~SQL
      INSERT INTO timers (rule_id, version_id, purpose, kind, record_id, due_at, look)
      SELECT #{rule[:id]} + seq % 3, #{rule[:version_id]}, 'record', 'deal', seq,
        '2026-11-24 12:00:00' + INTERVAL IF(seq <= 40, CAST(seq AS SIGNED) - 21, 86400 + seq) SECOND, 0
      FROM seq_1_to_200000
    SQL
    db.fetch("ANALYZE TABLE timers").all
  end

  it "claims and shows what comes without going through the other timers", :committed, :slow do
    rule =
      publish(
        "trigger" => {
          "when" => "date_timer",
          "date" => {"count" => 5, "unit" => "days", "direction" => "before", "from" => "launch_date"}
        },
        "branches" => [
          {"do" => [{"action" => "task", "title" => "Now", "assign" => {"to" => "person", "person" => "wen"}}]}
        ]
      )
    fill(rule)
    now = Database::NOW
    timers = root.timers
    read = {
      claim: rows_read { expect(timers.claim(limit: 50, now:).size).to eq(21) },
      due: rows_read { expect(timers.due?(now)).to be(true) },
      next_of_rule: rows_read { expect(timers.next_of_rule(rule[:id], limit: 20).size).to eq(20) },
      coming: rows_read { expect(timers.coming(from: now, till: now + (7 * 86_400), limit: 300).size).to eq(300) },
      about: rows_read { timers.about(77) }, later: rows_read { timers.later_of([77, 78]) },
      task: rows_read { timers.task_changed({id: 77, open: false}, ["state"], now) },
      next_moment: rows_read { root.upkeep.next_moment(after: now, till: now + 100) },
      held: rows_read { timers.held(rule[:id], now:) }
    }
    expect(read.select { |_, count| count > 1_000 }).to be_empty
  end

  it "keeps one timer for a rule and a record, and forgets a record that is taken away" do
    row = {
      rule_id: 1, version_id: 1, purpose: "record", kind: "deal", record_id: 5, task_id: 0, due_at: Database::NOW,
      look: false, held_due: nil, since: nil, fired_for: nil
    }
    root.timers.put([row])
    root.timers.put([row.merge(version_id: 2, due_at: Database::NOW + 60)])
    expect(db[:timers].select_map([:version_id, :due_at])).to eq([[2, Database::NOW + 60]])
    root.timers.record_gone(nil, {"id" => 5}, nil, nil)
    expect(db[:timers].count).to eq(0)
  end

  it "hands no timer to two workers, and none of a record that an earlier one is in other hands for" do
    row = {
      rule_id: 1, version_id: 1, purpose: "record", kind: "deal", record_id: 5, task_id: 0, look: false, held_due: nil,
      since: nil, fired_for: nil
    }
    root.timers.put(
      [
        row.merge(due_at: Database::NOW - 2), row.merge(rule_id: 2, due_at: Database::NOW - 1),
        row.merge(record_id: 6, due_at: Database::NOW - 1)
      ]
    )
    expect(root.timers.claim(limit: 10, now: Database::NOW).map { |one| one.values_at(:rule_id, :record_id) }).to eq(
      [[1, 5], [1, 6]]
    )
    db[:waiting].insert(entry_id: 1, record_id: 6)
    root.timers.fired([root.timers.about(5).min_by { |one| one[:due_at] }])
    expect(root.timers.claim(limit: 10, now: Database::NOW).map { |one| one.values_at(:rule_id, :record_id) }).to eq(
      [[2, 5]]
    )
  end
end
