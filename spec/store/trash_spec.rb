# frozen_string_literal: true

RSpec.describe Yenvo::Store::Trash do
  let(:aldo) { make("contact", {"title" => "Aldo", "email" => "aldo@sea.example"})["id"] }
  let(:deal) { make("deal", {"title" => "Quiet Hour", "boat_owner" => aldo})["id"] }

  def away(id, who: "maren") = root.trash.remove(id, cause: cause(who))
  def back(id) = root.trash.put_back(id, cause: cause("maren"))
  def task_on(id, title = "Call") = root.tasks.make({"title" => title, "record_id" => id}, cause: cause)[:id]
  def state(task) = root.task_rows.find!(task)[:state]

  it "takes any record with all that hangs on it, and gives it back whole" do
    root.files = Dir.mktmpdir
    task = task_on(deal)
    done = task_on(deal, "Done before")
    root.tasks.finish(done, cause: cause)
    root.interactions.log(deal, "call", "He rang.", cause: cause)
    root.attachments.add({record_id: deal}, "plan.txt", "a plan", cause: cause)
    ticket = make("ticket", {"title" => "Pump", "boat" => deal})["id"]
    root.links.add(deal, make("contact", {"title" => "Bo"})["id"], cause: cause)
    before = root.records.find!(deal)
    around = root.links.around(deal).map { |row| row.values_at(:title, :field) }
    index = db[:record_index].where(record_id: deal).order(:field, :word).select_map(%i[field num word])
    expect(root.trash.hanging(deal)).to eq(notes: 1, open_tasks: 1, links: 2, kits: 0, lists: 0)
    away(deal)
    expect([db[:records].where(id: deal).count, state(task), state(done)]).to eq([0, "dropped", "done"])
    expect(root.links.around(ticket)).to eq([])
    back(deal)
    expect(root.records.find!(deal).except("version", "changed")).to eq(before.except("version", "changed"))
    expect([state(task), state(done)]).to eq(%w[open done])
    expect(root.interactions.of_record(deal).map { |note| note[:text] }).to eq(["He rang."])
    expect(root.attachments.of(record_id: deal).map { |file| file[:name] }).to eq(["plan.txt"])
    expect(root.links.around(deal).map { |row| row.values_at(:title, :field) }).to match_array(around)
    expect(db[:record_index].where(record_id: deal).order(:field, :word).select_map(%i[field num word])).to eq(index)
  end

  it "brings links back whichever of two comes back first" do
    [[deal, aldo], [aldo, deal]].permutation.to_a.product([0, 1]).each do |(gone, other), turn|
      gone.each { |id| away(id) }
      (turn.zero? ? gone : other).each { |id| back(id) }
      expect(root.links.around(aldo).map { |row| row.values_at(:id, :field) }).to eq([[deal, "boat_owner"]])
      expect(root.records.find!(deal)["boat_owner"]).to eq(aldo)
    end
  end

  it "takes places on lists along, and brings them back with it" do
    entry = root.list_entries.put_on(deal, "entry/launch_roster", cause: cause)["id"]
    expect(root.trash.hanging(deal)[:lists]).to eq(1)
    away(deal)
    expect(db[:trash].select_map(:record_id)).to contain_exactly(deal, entry)
    expect { back(entry) }.to raise_error(Yenvo::Store::Refused, /“Quiet Hour”, which was taken away. Bring that back/)
    back(deal)
    expect([db[:trash].count, root.list_entries.of(deal, "entry/launch_roster")]).to eq([0, [entry]])
  end

  it "lets kits and timers rest until it is back", :engine do
    kit = publish_demo_kit("16-lost-deal-tidy-up")
    compiled = root.kits.compiled(kit[:version_id])
    change(deal, {"launch_date" => "2026-12-20"})
    copy = root.copies.begin(compiled, deal, cause: cause)[:id]
    date = {"count" => 7, "unit" => "days", "direction" => "before", "from" => "launch_date", "at" => "08:00"}
    publish("name" => "Soon", "trigger" => {"when" => "date_timer", "date" => date},
      "branches" => [{"do" => [{"action" => "notice", "assign" => {"to" => "owner"}, "text" => "Soon",
                                "fallback" => {"to" => "person", "person" => "maren"}}]}])
    work
    open = root.task_rows.open_about(deal).count
    timers = db[:timers].where(record_id: deal).exclude(due_at: nil).select_map(:due_at)
    expect([open, timers.size]).to all(be_positive)
    away(deal)
    work
    expect(root.copies.find!(copy)[:state]).to eq("resting")
    expect { root.copies.stop(copy, cause: cause) }.to raise_error(Yenvo::Store::Refused, /rests, since its record/)
    expect(db[:timers].where(record_id: deal).count).to eq(0)
    back(deal)
    work
    expect([root.copies.find!(copy)[:state], root.task_rows.open_about(deal).count]).to eq(["running", open])
    expect(db[:timers].where(record_id: deal).exclude(due_at: nil).select_map(:due_at)).to eq(timers)
  end

  it "gives back nothing that stands on another by now, and says which" do
    db[:fields].where(kind: "contact", key: "email").update(unique: true)
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
    away(aldo)
    make("contact", {"title" => "Another", "email" => "aldo@sea.example"})
    expect { back(aldo) }.to raise_error(Yenvo::Store::Refused, /E-mail aldo@sea.example stands on another contact/)
    expect(db[:trash].count).to eq(1)
  ensure
    db[:fields].where(kind: "contact", key: "email").update(unique: false)
    root.forget
  end
end
