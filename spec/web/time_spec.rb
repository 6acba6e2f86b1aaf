# frozen_string_literal: true

RSpec.describe "Time over the API" do
  def timer(**more) =
    {
      "format" => "yenvo-rule/1", "name" => "Hoist", "record" => "deal",
      "trigger" => {
        "when" => "date_timer",
        "date" => {
          "count" => 5, "unit" => "days", "direction" => "before", "from" => "launch_date", "at" => "08:00",
          "day_off" => "stays"
        }
      },
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Hoist {{ record.title }}",
              "assign" => {"to" => "person", "person" => "hollie"}
            }
          ]
        }
      ]
    }.merge(more.transform_keys(&:to_s))

  def drafted(rule = timer) = call(:post, "/api/rules", rule:)["id"]

  it "says how many moments are past before a rule with timers is published, and fires for them only when that is " \
    "chosen" do
    sign_in("maren")
    make("deal", "launch_date" => "2026-11-20")
    make("deal", "title" => "Sallow", "launch_date" => "2026-12-20")
    expect(call(:post, "/api/try/past", rule: timer)).to eq(
      "timer" => true, "per" => "record", "count" => 1, "looked_at" => 2, "more" => false, "example" => "Quiet Hour"
    )
    expect(call(:post, "/api/try/past", rule: timer("trigger" => {"when" => "record_made"}))).to include(
      "timer" => false, "count" => 0
    )
    id = drafted
    call(:post, "/api/rules/#{id}/publish", rule: timer, past: "fire")
    expect(get_json("/api/rules/#{id}/timers")).to match(
      "held" => 0, "next" => [], "building" => hash_including("state" => "waiting", "total" => 2)
    )
    work
    expect(db[:tasks].select_map(:title)).to eq(["Hoist Quiet Hour"])
    expect(get_json("/api/rules/#{id}/timers")).to match(
      "held" => 0, "building" => nil,
      "next" => [
        hash_including(
          "at" => "2026-12-15T08:00:00.000000Z", "record" => hash_including("title" => "Sallow"), "runs" => true,
          "branches" => ["1"]
        )
      ]
    )
  end

  it "pauses and resumes with what came due meanwhile counted" do
    sign_in("maren")
    id = drafted
    call(:post, "/api/rules/#{id}/publish", rule: timer)
    make("deal", "launch_date" => "2026-11-30", :at => Time.utc(2026, 11, 1))
    work
    call(:post, "/api/rules/#{id}/pause")
    expect(get_json("/api/rules/#{id}/timers")["held"]).to eq(0)
    WebClient.clock.now = Time.utc(2026, 11, 28)
    expect(get_json("/api/rules/#{id}/timers")["held"]).to eq(1)
    expect(call(:post, "/api/rules/#{id}/resume?late=yes")["state"]).to eq("on")
    work(at: Time.utc(2026, 11, 28))
    expect(db[:tasks].count).to eq(1)
  ensure
    WebClient.clock.now = Database::NOW
  end

  it "reads recurrences in words with their next dates, or says what is wrong" do
    sign_in("maren")
    said = call(:post, "/api/try/recurrence", recurs: "FREQ=MONTHLY;BYMONTHDAY=1", starts: "2026-01-01", at: "08:00")
    expect(said).to include("problem" => nil, "words" => "Every month on day 1")
    expect(said["next"].size).to eq(10)
    expect(said["next"].first(5)).to eq(
      %w[2026-12-01T08 2027-01-01T08 2027-02-01T08 2027-03-01T08 2027-04-01T07].map { |hour| "#{hour}:00:00.000000Z" }
    )
    expect(
      call(:post, "/api/try/recurrence", recurs: "FREQ=HOURLY", starts: "2026-01-01", at: "08:00")["problem"]
    ).to match(/FREQ/)
    ["soon", "1066-10-14"].each do |starts|
      call(:post, "/api/try/recurrence", recurs: "FREQ=DAILY", starts:, at: "08:00")
      expect(status).to eq(422)
    end
  end

  it "shows what lies ahead of a record and what a change would bring, to everybody, writing nothing" do
    publish(timer)
    deal = make("deal", "launch_date" => "2026-12-10", :at => Time.utc(2026, 11, 1))["id"]
    work
    sign_in("hollie")
    found = get_json("/api/records/#{deal}/ahead?days=60")
    expect(found).to include("watching" => 1, "cut" => false)
    expect(found["items"]).to match(
      [
        hash_including(
          "at" => "2026-12-05T08:00:00.000000Z", "words" => "Task “Hoist Quiet Hour”", "who" => "Hollie Banner",
          "rule" => hash_including("name" => "Hoist"), "state" => "same"
        )
      ]
    )
    changed = call(:post, "/api/records/#{deal}/ahead", days: 60, change: {"launch_date" => "2026-12-20"})
    expect(changed["items"].map { |item| item.values_at("at", "state") }).to eq(
      [%w[2026-12-05T08:00:00.000000Z gone], %w[2026-12-15T08:00:00.000000Z new]]
    )
    expect(call(:post, "/api/records/#{deal}/ahead", days: 60, change: {"launch_date" => "soon"})["fields"]).to match(
      "launch_date" => /takes a date/
    )
    expect(root.records.find!(deal)["launch_date"]).to eq("2026-12-10")
    get_json("/api/records/999999/ahead")
    expect(status).to eq(404)
  end

  it "shows what comes to a person by itself" do
    publish(timer)
    publish(
      {
        "name" => "Monday", "record" => "deal",
        "trigger" => {
          "when" => "schedule", "recurs" => "FREQ=WEEKLY;BYDAY=MO", "starts" => "2026-01-01", "at" => "08:00"
        },
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Look at {{ record.title }}",
                "assign" => {"to" => "person", "person" => "hollie"}
              }
            ]
          }
        ]
      }
    )
    make("deal", "launch_date" => "2026-12-03", :at => Time.utc(2026, 11, 1))
    work
    sign_in("hollie")
    expect(get_json("/api/worklist/coming")["items"].map { |item| item.values_at("at", "title") }).to eq(
      [["2026-11-28T08:00:00.000000Z", "Hoist Quiet Hour"], ["2026-11-30T08:00:00.000000Z", "Look at Quiet Hour"]]
    )
    expect(get_json("/api/worklist/coming?who=wen")["items"]).to be_empty
  end

  it "shows the next step of the ladder on a task" do
    publish(
      {
        "name" => "L", "record" => "deal", "trigger" => {"when" => "task_made"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "ladder",
                "steps" => [
                  {
                    "after" => {"count" => 3, "unit" => "working_days", "from" => "due", "at" => "09:00"},
                    "do" => "pass_on", "assign" => {"to" => "person", "person" => "tobias"},
                    "fallback" => {"to" => "person", "person" => "maren"}
                  }
                ]
              }
            ]
          }
        ]
      }
    )
    id =
      root.tasks.make({"title" => "Call", "record_id" => make("deal")["id"], "due_on" => "2026-11-26"}, cause:)[
        :id
      ]
    work
    sign_in("hollie")
    expect(get_json("/api/tasks/#{id}")["later"]).to match(
      [hash_including("at" => "2026-12-01T09:00:00.000000Z", "words" => "to Tobias Kell")]
    )
  end

  it "lets nobody but administrators look at past moments" do
    sign_in("hollie")
    call(:post, "/api/try/past", rule: timer)
    expect(status).to eq(403)
  end

  it "says on every page that the clock was moved" do
    sign_in("hollie")
    expect(get_json("/api/setup")["clock_moved"]).to be(false)
    root.moved_clock.allow
    root.moved_clock.run_on(86_400.0)
    expect(get_json("/api/setup")["clock_moved"]).to be(true)
  end
end
