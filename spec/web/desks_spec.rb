# frozen_string_literal: true

RSpec.describe "Teams and queues over the API" do
  before { sign_in("maren") }

  def sentence = JSON.parse(last_response.body)["fields"].values.first
  def team(name) = call(:post, "/api/setup/desks/teams", team: {name:})["key"]
  def queue(**given) = call(:post, "/api/setup/desks/queues", queue: {name: "Snags", team: "yard_crew", **given})
  def put_queue(key, **given) = call(:put, "/api/setup/desks/queues", key:, queue: given)
  def retire(what, key, **more) = call(:delete, "/api/setup/desks/#{what}", key:, **more)
  def names(what) = get_json("/api/setup")[what].map { |one| one["name"] }

  def wen(**changes) =
    call(
      :put, "/api/setup/persons", key: "wen",
      person: {name: "Wen Zhao", email: "wen@fennick.example", role: "member", team: "yard_crew", **changes}
    )

  def give_to_queue(kind, trigger, queue) =
    survey_rule(
      "name" => "To #{queue}", "record" => kind, "trigger" => trigger,
      "branches" => [
        {"do" => [{"action" => "task", "title" => "Look", "assign" => {"to" => "queue", "queue" => queue}}]}
      ]
    )

  it "are made, renamed, retired and brought back, each name once" do
    key = team("Sail loft")
    expect(names("teams")).to include("Sail loft")
    call(:put, "/api/setup/desks/teams", key:, team: {name: "Canvas loft"})
    expect(names("teams")).to include("Canvas loft")
    call(:post, "/api/setup/desks/teams", team: {name: "canvas LOFT"})
    expect([status, sentence]).to eq(
      [422, "There is a team canvas LOFT already; two of the same name could not be told apart."]
    )
    retire("teams", key)
    expect(names("teams")).not_to include("Canvas loft")
    back = call(:post, "/api/setup/desks/back", what: "teams", key:)
    expect(back["teams"].find { |one| one["key"] == key }).to include("retired_at" => nil)
    retire("teams", "nothing")
    expect(status).to eq(404)
  end

  it "say what stands in the way of retiring them" do
    retire("teams", "yard_crew")
    expect(sentence).to eq("Yard crew has 2 members. Put them in another team first.")
    key = team("Sail loft")
    made = queue(name: "Sails", team: key)["key"]
    retire("teams", key)
    expect(sentence).to eq("Sails is a queue of Sail loft. Give it to another team, or retire it first.")
    task = call(:post, "/api/tasks", title: "Patch", queue: made)
    expect(status).to eq(201), task.to_s
    retire("queues", made)
    expect(sentence).to eq("1 task waits in Sails. Pass them on first, then retire it.")
    rule = publish(give_to_queue("deal", {"when" => "record_made"}, "callbacks"))
    retire("queues", "callbacks")
    expect([sentence, JSON.parse(last_response.body)["leaning"]]).to eq(
      ["“To callbacks” leans on the queue Callbacks. Change that first, or take it away all the same.", true]
    )
    retire("queues", "callbacks", anyway: true)
    expect(status).to eq(200)
    expect(db[:notices].where(rule_id: rule[:id]).get(:text)).to start_with(
      "The queue Callbacks was taken away. Your rule “To callbacks” leans on that."
    )
    retire("teams", "front_office")
    expect(sentence).to match(/has \d members/)
  end

  it "let somebody be in several teams: they take from the queues of all, and may work their tasks" do
    loft = team("Sail loft")
    sails = queue(name: "Sails", team: loft)["key"]
    shown = wen(teams: ["yard_crew", loft])["setup"]["people"].find { |one| one["key"] == "wen" }
    expect(shown).to include("team" => "yard_crew", "teams" => contain_exactly("yard_crew", loft))
    wen(teams: ["nowhere"])
    expect(sentence).to eq("There is no team \"nowhere\".")
    call(:post, "/api/tasks", title: "Patch", queue: sails)
    sign_in("wen")
    expect(get_json("/api/queues")["queues"].select { |one| one["mine"] }.map { |one| one["name"] }).to eq(
      ["Sails", "Yard work"]
    )
    expect(call(:post, "/api/queues/next", queue: sails)["task"]).to include("title" => "Patch")
    rule = survey_rule(
      "name" => "By turns", "record" => "deal", "trigger" => {"when" => "record_made"},
      "branches" => [
        {"do" => [{"action" => "task", "title" => "Look", "assign" => {"to" => "turns", "team" => loft}}]}
      ]
    )
    rule["branches"][0]["do"][0]["fallback"] = {"to" => "queue", "queue" => sails}
    publish(rule)
    make("deal")
    work
    expect(db[:tasks].where(title: "Look").get(:assignee)).to eq("wen")
  end

  it "keep a queue to the kinds it takes: at publishing, by hand, and when a rule about tasks runs" do
    key = queue(kinds: %w[ticket])["key"]
    only = "the queue Snags takes tickets only"
    rule = {"format" => "yenvo-rule/1"}.merge(give_to_queue("deal", {"when" => "record_made"}, key))
    id = call(:post, "/api/rules", rule:)["id"]
    call(:post, "/api/rules/#{id}/publish", rule:, stamp: 1)
    expect([status, last_response.body]).to match([422, /must name another queue: #{only}, no deals/])
    deal, ticket = make("deal")["id"], make("ticket")["id"]
    call(:post, "/api/tasks", title: "Look", queue: key, record_id: deal)
    expect([status, sentence]).to eq([422, "T#{only[1..]}, no deals. Choose another queue, or somebody."])
    call(:post, "/api/tasks", title: "Look", queue: key)
    expect(sentence).to eq("T#{only[1..]}, no tasks without a record. Choose another queue, or somebody.")
    expect(call(:post, "/api/tasks", title: "Look", queue: key, record_id: ticket)).to include("queue" => key)
    mine = call(:post, "/api/tasks", title: "Mine", record_id: deal)["id"]
    call(:post, "/api/tasks/#{mine}/pass-on", queue: key)
    expect([status, sentence]).to eq([422, "T#{only[1..]}, no deals. Choose another queue, or somebody."])
    call(:post, "/api/tasks/several", step: "pass_on", ids: [mine], queue: key)
    expect(last_response.body).to include("no deals")

    assign = {"to" => "queue", "queue" => key}
    publish(
      survey_rule(
        "name" => "All to snags", "record" => "task", "trigger" => {"when" => "task_made"},
        "branches" => [{"do" => [{"action" => "tasks", "only" => "this", "assign" => assign}]}]
      )
    )
    work
    late = call(:post, "/api/tasks", title: "Fresh", record_id: deal)["id"]
    work
    expect(db[:tasks].where(id: late).get(:queue)).to be_nil
    expect(db[:runs].where(state: "failed").get(:why)).to include("#{only}, no deals")
  end

  it "refuse to narrow a queue while a rule puts other records in it, and tell its owner when it goes on" do
    publish(give_to_queue("deal", {"when" => "record_made"}, "callbacks"))
    narrow = {name: "Callbacks", team: "front_office", kinds: %w[ticket contact]}
    put_queue("callbacks", **narrow)
    expect([status, sentence]).to eq(
      [422, "“To callbacks” leans on that Callbacks takes other records too. Change that first, or take it away all " \
        "the same."]
    )
    put_queue("callbacks", **narrow, anyway: true)
    expect(status).to eq(200)
    expect(db[:notices].get(:text)).to start_with("That Callbacks takes other records too was taken away.")
    put_queue("callbacks", **narrow, kinds: [])
    expect(last_response.body).to include('"kinds":null')
  end

  {
    "due" => %w[urgent soon late none], "priority" => %w[urgent late soon none], "age" => %w[none late soon urgent]
  }.each do |order, titles|
    it "give out the tasks of a queue by #{order}" do
      key = queue(order:)["key"]
      [["none", "low", nil], ["late", "high", "2026-12-20"], ["soon", "normal", "2026-12-01"],
        ["urgent", "urgent", nil]]
        .each do |title, priority, due_on|
          call(:post, "/api/tasks", title:, queue: key, priority:, due_on:)
        end
      taken = Array.new(5) { call(:post, "/api/queues/next", queue: key)["task"]&.fetch("title") }
      expect(taken).to eq([*titles, nil])
    end
  end

  it "refuse what is no queue" do
    {
      {order: "alphabet"} => "A queue is taken from as due, priority, age.",
      {kinds: ["ghost"]} => "There is no kind of record \"ghost\".",
      {team: "ghost"} => "There is no team \"ghost\"; choose whose queue it is.",
      {name: "  "} => "The name of the queue takes a few words."
    }.each do |given, words|
      queue(**given)
      expect([status, sentence]).to eq([422, words])
    end
  end

  it "let leads enter days away for their team, and for nobody else" do
    sign_in("tobias")
    expect(get_json("/api/team?by=person")["may_enter"]).to match_array(%w[tobias wen])
    days = [{from: "2026-12-01", to: "2026-12-04"}]
    expect(call(:put, "/api/team/absences", person: "wen", absences: days)["absences"]).to eq(
      [{"from" => "2026-12-01", "to" => "2026-12-04"}]
    )
    expect(root.calendar.away_until("wen", Date.new(2026, 12, 1))).to eq(Date.new(2026, 12, 4))
    call(:put, "/api/team/absences", person: "hollie", absences: days)
    expect(status).to eq(403)
    get_json("/api/team/absences?person=hollie")
    expect(status).to eq(403)
    sign_in("wen")
    call(:put, "/api/team/absences", person: "wen", absences: [])
    expect(status).to eq(403)
    sign_in("maren")
    expect(get_json("/api/team/absences?person=wen")["absences"].size).to eq(1)
    call(:put, "/api/team/absences", person: "wen", absences: [{from: "x", to: "y"}])
    expect(status).to eq(422)
  end

  it "are administrators' alone" do
    sign_in("tobias")
    get_json("/api/setup/desks")
    expect(status).to eq(403)
    queue
    expect(status).to eq(403)
  end
end
