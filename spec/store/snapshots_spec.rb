# frozen_string_literal: true

# What rules see of an event: the record, those it links to and those that lead to it, as they were right after it.
RSpec.describe "Yenvo::Store::Snapshots" do
  def need(*chain, over: nil) = Yenvo::Core::Need.new(chain:, over:)
  def events = db[:journal].order(:id).all.map { |row| root.journal.event(row) }
  def facts(*events, &needs) = root.snapshots.facts(events, &needs)

  let(:aldo) { make("contact", "title" => "Aldo", "berth" => "A1")["id"] }
  let(:deal) { make("deal", "title" => "Tern", "value" => 1, "boat_owner" => aldo)["id"] }

  it "sees a linked record as it was right after each event, and as it is now for what is only thought" do
    deal
    change(aldo, {"berth" => "A2"})
    change(deal, {"value" => 2})
    made, changed = events.select { |event| event.record_id == deal }
    thought = Yenvo::Core::Event.look("deal", root.records.find!(deal), at: Database::NOW)
    change(aldo, {"berth" => "A3"})
    seen = facts(made, changed, thought) { [need("boat_owner")] }
    expect(seen.map { |one| one.linked[aldo]["berth"] }).to eq(%w[A1 A2 A3])
  end

  it "goes over two links, and stops where one is empty or leads to what is gone" do
    ticket = make("ticket", "title" => "Loose rail", "boat" => deal)["id"]
    bare = make("ticket", "title" => "Another")["id"]
    found = facts(*events.select { |event| [ticket, bare].include?(event.record_id) }) { [need("boat", "boat_owner")] }
    expect(found.map { |one| one.linked.keys }).to eq([[deal, aldo], []])
    db[:records].where(id: aldo).delete
    gone = facts(events.find { |event| event.record_id == ticket }) { [need("boat", "boat_owner")] }
    expect(gone[0].linked.keys).to eq([deal])
  end

  it "loads nothing that nobody asked for, and what many ask for by queries that do not grow with them" do
    Array.new(5) { |i| make("ticket", "title" => "Snag #{i}", "boat" => deal) }
    all = events.select { |event| event.kind == "ticket" }
    expect(facts(*all) { [] }.map(&:linked)).to eq([{}] * 5)
    counted = [all, all.first(1)].map { |some| statements { facts(*some) { [need("boat", "boat_owner")] } } }
    expect(counted[0]).to be_positive.and eq(counted[1])
  end

  it "gives what happened to a task the record as it was at that moment, before and after" do
    deal
    root.tasks.make({"title" => "Call", "record_id" => deal}, cause:)
    task_made = events.last
    change(deal, {"value" => 9})
    seen = facts(task_made) { [] }[0]
    expect([seen.before["value"], seen.after["value"], seen.event.detail["task"]["title"]]).to eq([1, 1, "Call"])
  end

  it "sees the tasks of the record and the records that lead to it, as they were" do
    deal
    root.tasks.make({"title" => "Call", "record_id" => deal}, cause:)
    change(deal, {"value" => 2})
    at = events.last
    root.tasks.make({"title" => "Later", "record_id" => deal}, cause: cause(at: Database::NOW + 60))
    seen = facts(at) { [need(over: "tasks")] }[0]
    expect(seen.related[[deal, "tasks"]].map { |task| task["title"] }).to eq(["Call"])
  end
end
