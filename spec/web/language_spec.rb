# frozen_string_literal: true

RSpec.describe "The whole language over the API" do
  def rule(**more) = {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule(**more))

  before { sign_in("maren") }

  it "tells at once what rules set before the save" do
    publish(
      {
        "name" => "Due", "record" => "ticket", "run" => "before_save", "trigger" => {"when" => "record_made"},
        "branches" => [
          {
            "do" => [
              {"action" => "set", "values" => [{"field" => "due", "date" => {"count" => 10, "unit" => "working_days"}}]}
            ]
          }
        ]
      }
    )
    made = call(:post, "/api/records", kind: "ticket", values: {"title" => "Hull"})
    expect(made["set_by"]).to match(
      [{"rule" => hash_including("name" => "Due"), "words" => ["Due is set to Tue 8 Dec 2026"]}]
    )
    expect(made["values"]["due"]).to eq("2026-12-08")
  end

  it "answers a save that a rule stops with its words, at the fields named or for the whole record" do
    stop = ->(kind, **more) do
      publish(
        "name" => "Stop", "record" => kind, "run" => "before_save", "trigger" => {"when" => "record_made"},
        "branches" => [{"do" => [{"action" => "refuse", "text" => "Not on a Sunday.", **more.transform_keys(&:to_s)}]}]
      )
    end
    stop.call("ticket", fields: ["due"])
    call(:post, "/api/records", kind: "ticket", values: {"title" => "Hull"})
    expect([status, JSON.parse(last_response.body)["fields"]]).to eq([422, {"due" => "Not on a Sunday."}])
    expect(db[:records].count).to eq(0)
  end

  it "finds gaps and overlaps, tries one record changed, and counts over a filter" do
    task = survey_rule["branches"][0]["do"]
    two =
      rule(
        "branches" => [
          {"if" => {"all" => [{"field" => "boat_length", "test" => "more", "value" => 12}]}, "do" => task},
          {
            "if" => {
              "all" => [
                {"field" => "boat_length", "test" => "more", "value" => 15},
                {"field" => "value", "test" => "more", "value" => 5}
              ]
            },
            "do" => task
          }
        ]
      )
    checked = call(:post, "/api/try/check", rule: two)
    expect([checked["problems"].map { |one| one["text"] }, checked["notes"].map { |one| one["kind"] }]).to match(
      [[/earlier branches take every such case/], %w[gap overlap]]
    )
    deal = make("deal", "stage" => "quoted", "boat_length" => 13, "value" => 1)["id"]
    make("deal", "stage" => "survey_booked", "boat_length" => 13, "value" => 2)
    plan = call(:post, "/api/try/one", rule:, record_id: deal, change: {"stage" => "survey_booked"})
    expect([plan["state"], plan["branches"]]).to eq(["run", ["1"]])
    plan = call(:post, "/api/try/one", rule:, record_id: deal, change: {"stage" => "accepted"})
    expect([plan["state"], plan["why"]]).to eq(["skip", "Stage became Accepted"])
    call(:post, "/api/try/one", rule:, record_id: deal, change: {"value" => "much"})
    expect(status).to eq(422)
    expect(call(:post, "/api/try", rule:, filter: {filters: {"value" => ["2"]}})["looked_at"]).to eq(1)
    expect(call(:post, "/api/try", rule:, filter: {filters: {"value" => ["3"]}})["looked_at"]).to eq(0)
  end

  it "compares versions in words, publishes an old one again, and starts rules by hand" do
    row = publish(survey_rule("trigger" => {"when" => "by_hand"}))
    id = row[:id]
    call(
      :post, "/api/rules/#{id}/publish",
      rule: rule("trigger" => {"when" => "by_hand"}, "how_often" => "once_per_record"), stamp: nil
    )
    found = get_json("/api/rules/#{id}/compare/1/2")
    expect(found["changes"]).to eq([{"where" => "Rule", "text" => "how often was every time, is once per record"}])
    expect(call(:post, "/api/rules/#{id}/publish", rule: found["one"], stamp: nil)["version"]).to eq(3)
    deal = make("deal")["id"]
    expect(call(:post, "/api/rules/#{id}/start", records: [deal])).to eq("started" => 1)
    work
    expect(db[:tasks].count).to eq(1)
    call(:post, "/api/rules/#{id}/start", records: [make("ticket", "title" => "T")["id"]])
    expect(status).to eq(422)
    sign_in("wen")
    call(:post, "/api/rules/#{id}/start", records: [deal])
    expect(status).to eq(403)
  end

  it "runs on all that match as a job, and undoes a run with the list of what goes and what stays" do
    row = publish(survey_rule("trigger" => {"when" => "record_changed", "field" => "value"}))
    deal = make("deal", "value" => 5)["id"]
    job = call(:post, "/api/jobs", rule_id: row[:id], total: 1)
    work
    expect(get_json("/api/jobs/#{job["id"]}")).to include("state" => "done", "started" => 1)
    expect(get_json("/api/rules/#{row[:id]}/job")["job"]["id"]).to eq(job["id"])
    run = get_json("/api/trail?record=#{deal}")["runs"].first["id"]
    expect(get_json("/api/runs/#{run}")["event"]).to eq("Maren Oduya started the rule Survey booked on all that match")
    seen = call(:post, "/api/undo/preview", run:)
    expect(seen["items"].map { |one| one.slice("words", "back") }).to eq(
      [{"words" => "Task “Call about Quiet Hour”", "back" => true}]
    )
    expect(
      call(:post, "/api/undo", rule: row[:id], since: "2026-11-24T00:00:00Z")["items"].map { |one| one["back"] }
    ).to eq([true])
    expect(get_json("/api/trail?result=undone")["runs"].first).to include("state" => "undone", "undone_by" => "maren")
    call(:post, "/api/undo", rule: row[:id], since: "yesterday")
    expect(status).to eq(422)
  end

  it "gives patterns and makes a draft of one, with its blanks as problems" do
    found = get_json("/api/patterns")
    expect(found["patterns"].size).to be >= 20
    draft = call(:post, "/api/patterns", key: "deal-stage-checklist")
    expect([status, draft["state"]]).to eq([201, "draft"])
    expect(call(:post, "/api/try/check", rule: draft["rule"])["problems"].map { |one| one["where"] }).to include(
      "trigger.stages"
    )
    found["patterns"].each do |pattern|
      made = call(:post, "/api/patterns", key: pattern["key"])
      problems = call(:post, "/api/try/check", rule: made["rule"])["problems"]
      expect(problems.map { |one| one["text"] }.grep(/must not|unknown/)).to eq([]), pattern["key"]
    end
  end

  it "tells people by notice, and keeps what each has read" do
    publish(
      survey_rule(
        "trigger" => {"when" => "record_made"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "notice",
                "assign" => {"to" => "person", "person" => "maren"}, "text" => "New: {{ record.title }}"
              }
            ]
          }
        ]
      )
    )
    make("deal")
    work
    found = get_json("/api/notices")
    expect([found["unread"], found["notices"].first.slice("text", "read")]).to eq(
      [1, {"text" => "New: Quiet Hour", "read" => false}]
    )
    expect(call(:post, "/api/notices/read", ids: [found["notices"][0]["id"]])).to eq("unread" => 0)
    sign_in("wen")
    expect(get_json("/api/notices")["notices"]).to eq([])
  end

  it "lets only administrators undo, run on all that match, use patterns and put rules in order" do
    row = publish(survey_rule)
    run = make("deal", "stage" => "survey_booked") && work && db[:runs].get(:id)
    %w[tobias hollie].each do |who|
      sign_in(who)
      [
        [:post, "/api/undo", {run:}], [:post, "/api/undo/preview", {run:}],
        [:post, "/api/jobs", {rule_id: row[:id], total: 1}], [:post, "/api/patterns", {key: "missing-fields"}],
        [:put, "/api/rules/#{row[:id]}/position", {before: nil}], [:post, "/api/try", {rule:}]
      ].each do |verb, path, body|
        call(verb, path, body)
        expect(status).to eq(403), "#{who} #{path}"
      end
    end
    expect(db[:tasks].where(open: true).count).to eq(1)
  end

  it "puts rules in another order, in which rules before the save then run" do
    one, two =
      %w[One Two].map do |name|
        publish(
          "name" => name, "run" => "before_save", "trigger" => {"when" => "record_made"},
          "branches" => [
            {"do" => [{"action" => "set", "values" => [{"field" => "title", "text" => "{{ record.title }} #{name}"}]}]}
          ]
        )
      end
    expect(make("deal", "title" => "A")["title"]).to eq("A One Two")
    order = call(:put, "/api/rules/#{two[:id]}/position", before: one[:id])
    expect(order["rules"].map { |rule| rule["name"] }).to eq(%w[Two One])
    expect(make("deal", "title" => "A")["title"]).to eq("A Two One")
  end

  it "filters lists by ranges of numbers and dates" do
    {"A" => ["2026-12-01", 5], "B" => ["2026-12-10", 50], "C" => ["2027-01-02", 500]}.each do |title, (date, value)|
      make("deal", "title" => title, "survey_date" => date, "value" => value)
    end
    titles = ->(query) do
      get_json("/api/records?kind=deal&sort=title&down=0&#{query}")["rows"].map { |row| row["title"] }
    end
    expect(
      [
        titles.call("from.survey_date=2026-12-01&to.survey_date=2026-12-31"), titles.call("from.value=50"),
        titles.call("to.value=49.5"), titles.call("from.made=2026-11-24&to.made=2026-11-24")
      ]
    ).to eq([%w[A B], %w[B C], %w[A], %w[A B C]])
    get_json("/api/records?kind=deal&from.value=much")
    expect([status, JSON.parse(last_response.body)["fields"].keys]).to eq([422, ["value"]])
    get_json("/api/records?kind=deal&from.owner=1")
    expect(status).to eq(422)
  end

  it "answers any rule with a sentence, never with a stack or half a write", :slow do
    bits = [
      nil, 1, -1, 1e300, "", "x" * 5_000, "{{", "{% for i in (1..9) %}x{% endfor %}", "= system('ls')", "=" * 400, [],
      {}, [[]], {"field" => "value"}, {"count" => 1}, true, "\u0000", "🙂", {"all" => [{"any" => [{"none" => []}]}]}
    ]
    for_many(120) do |chance|
      plain = JSON.parse(JSON.generate(chance.rule.to_h.merge("record" => "deal")))
      3.times { damage(plain, chance, bits) }
      call(:post, "/api/try/check", rule: plain)
      expect([200, 400, 422]).to include(status), last_response.body
      before = db[:rules].count
      call(:post, "/api/rules", rule: plain)
      expect([201, 400, 422]).to include(status), last_response.body
      expect(db[:rules].count - before).to eq((status == 201) ? 1 : 0)
      next unless status == 201

      id = JSON.parse(last_response.body)["id"]
      call(:post, "/api/rules/#{id}/publish", rule: plain, stamp: 1)
      expect([200, 422]).to include(status), last_response.body
      expect(db[:rule_versions].where(rule_id: id).count).to eq((status == 200) ? 1 : 0)
      get_json("/api/rules/#{id}")
      expect(status).to eq(200)
    end
  end

  # Puts something that does not belong there in some place of a rule.
  def damage(plain, chance, bits)
    at = plain
    4.times do
      key = chance.some(at.is_a?(Hash) ? at.keys : at.each_index.to_a)
      inner = at[key]
      break at[key] = Marshal.load(Marshal.dump(chance.some(bits))) if !(inner.is_a?(Hash) || inner.is_a?(Array)) ||
        inner.empty? || chance.chance(0.3)

      at = inner
    end
  end
end
