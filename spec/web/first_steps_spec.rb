# frozen_string_literal: true

RSpec.describe "First steps" do
  def steps = get_json("/api/first-steps").then { |shown| shown["steps"].to_h { |step| step.values_at("key", "done") } }

  before do
    Houses.empty(root)
    root.opening.open_house(Houses.opening, now: Database::NOW)
    call(:post, "/api/sign-in", email: "liga@pianos.example", password: "felt hammer oak")
    @token = nil
  end

  it "tick themselves from what is true, with a ready rule published" do
    expect(steps).to eq("people" => false, "records" => false, "rule" => false, "task" => false)
    call(
      :post, "/api/setup/persons",
      person: {name: "Juris", email: "juris@pianos.example", role: "member", team: "everyone", absences: []}
    )
    expect(steps).to include("people" => true, "records" => false)
    call(:post, "/api/records", kind: "deal", values: {title: "Upright", stage: "asked"})
    expect(status).to eq(201)
    expect(steps).to include("records" => true, "rule" => false)
    expect(get_json("/api/patterns")["patterns"].size).to be > 20
    made = call(:post, "/api/patterns", key: "new-contact-welcome")
    expect(status).to eq(201), made.to_s
    rule = made["rule"]
    rule["branches"][0]["do"].each { |action| action["fallback"] = {"to" => "queue", "queue" => "anyone"} }
    call(:post, "/api/rules/#{made["id"]}/publish", rule:, stamp: 1)
    expect(status).to eq(200)
    expect(steps).to include("rule" => true, "task" => false)
    call(:post, "/api/records", kind: "contact", values: {title: "Anna Bērziņa", owner: "liga_ozola"})
    work(at: Database::NOW + 1)
    task = db[:tasks].where(assignee: "liga_ozola").first
    expect(task).to include(title: "Write a welcome letter to Anna Bērziņa")
    call(:post, "/api/tasks/#{task[:id]}/done", {})
    expect(steps.values).to all(be(true))
  end

  it "are put away for all administrators, and are none of anybody else's" do
    expect(call(:delete, "/api/first-steps")).to include("away" => true)
    expect(get_json("/api/first-steps")["away"]).to be(true)
    db[:people].update(role: "lead")
    get_json("/api/first-steps")
    expect(status).to eq(403)
    call(:delete, "/api/first-steps")
    expect(status).to eq(403)
  end
end
