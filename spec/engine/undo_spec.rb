# frozen_string_literal: true

# Runs are taken back: all that they did, but what people have changed since.
RSpec.describe "Undo" do
  def image(id) = root.records.find!(id)
  def last_run = root.runs.find!(root.runs.list.first[:id])

  let(:deal) { make("deal", "value" => 1_000)["id"] }

  before do
    rule(
      {"when" => "record_changed", "field" => "value"}, task("Made"),
      {
        "action" => "set",
        "values" => [{"field" => "deposit", "value" => 50}, {"field" => "survey_type", "value" => "damage"}]
      },
      {
        "action" => "record", "kind" => "ticket", "values" => [{"field" => "title", "text" => "Sub"}],
        "link" => "boat"
      },
      {"action" => "list", "put" => "on", "list" => "launch_roster"},
      {"action" => "log", "way" => "note", "text" => "Logged"},
      {"action" => "notice", "assign" => {"to" => "person", "person" => "wen"}, "text" => "Told"},
      {
        "action" => "tasks",
        "which" => {"all" => [{"field" => "title", "test" => "is", "value" => "By hand"}]}, "priority" => "urgent"
      }
    )
    root.tasks.make({"title" => "By hand", "record_id" => deal}, cause:)
    change(deal, {"value" => 2_000})
    work
  end

  it "takes back all that a run made and set" do
    seen = root.undo.preview([last_run])
    expect(seen.map(&:back)).to all(be(true))
    expect(titles.size).to eq(2)
    done = root.undo.run([last_run], cause: cause("maren"))
    expect(done.map(&:words)).to eq(seen.map(&:words))
    expect(
      [
        image(deal).slice("deposit", "survey_type"), db[:records].where(kind: %w[ticket entry/launch_roster]).count,
        root.interactions.of_record(deal), root.notices.unread("wen")
      ]
    ).to eq([{}, 0, [], 0])
    expect(db[:tasks].order(:id).select_map(%i[title state priority])).to eq(
      [["By hand", "open", 1], ["Made", "dropped", 1]]
    )
    expect(last_run.values_at(:state, :undone_by)).to eq(%w[undone maren])
  end

  it "leaves what people have changed since, and says which" do
    change(deal, {"deposit" => 70})
    root.tasks.put_off(db[:tasks].where(title: "Made").get(:id), on: "2026-12-01", cause:)
    ticket = db[:records].where(kind: "ticket").get(:id)
    change(ticket, {"severity" => "unsafe"})
    items = root.undo.run([last_run], cause: cause("maren"))
    expect(items.reject(&:back).map { |item| [item.words, item.why] }).to contain_exactly(
      ["Deposit of Quiet Hour", "it was changed since, to €70"], ["Task “Made”", "somebody has changed it since"],
      ["Ticket “Sub”", "somebody has changed it since"]
    )
    expect(image(deal).slice("deposit", "survey_type")).to eq("deposit" => 70)
    expect(db[:records].where(id: ticket).count).to eq(1)
  end

  it "takes back all runs of a rule since a moment" do
    change(deal, {"value" => 3_000})
    work
    runs = root.undo.since(last_run[:rule_id], Database::NOW - 60)
    expect(runs.size).to eq(2)
    root.undo.run(runs, cause: cause("maren"))
    expect(image(deal).slice("deposit", "survey_type")).to eq({})
    expect(root.runs.list.map { |run| run[:state] }).to eq(%w[undone undone])
  end

  it "takes nothing back twice" do
    root.undo.run([last_run], cause: cause("maren"))
    again = root.undo.run([last_run], cause: cause("maren"))
    expect(again.map { |item| [item.back, item.why] }).to eq([[false, "it was undone already, or it failed"]])
    expect(db[:tasks].where(title: "Made").select_map(:state)).to eq(["dropped"])
  end

  it "takes back what is left when a record that it made is gone, and says what is gone" do
    ticket = db[:records].where(kind: "ticket").get(:id)
    db[:records].where(id: ticket).delete
    items = root.undo.run([last_run], cause: cause("maren"))
    expect(items.reject(&:back).map(&:words).join).to match(/icket/)
    expect(image(deal).slice("deposit", "survey_type")).to eq({})
  end
end
