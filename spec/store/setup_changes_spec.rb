# frozen_string_literal: true

# Changes of the set-up, and what leans on what is changed or has gone.
RSpec.describe "Yenvo::Store::SetupChanges" do
  let(:changes) { Yenvo::Store::SetupChanges.new(root) }
  def maren(at: Database::NOW) = cause("maren", at:)
  def told = db[:notices].order(:id).select_map(%i[person text])

  def wen(**more) =
    changes.person(
      "wen",
      {"name" => "Wen Zhao", "email" => "wen@fennick.example", "role" => "member", "team" => "yard_crew"}.merge(
        more.transform_keys(&:to_s)
      ),
      cause: maren
    )

  def to(assign, **more) = {"action" => "task", "title" => "Look", "assign" => assign, **more.transform_keys(&:to_s)}

  describe "when somebody leaves" do
    it "keeps every rule that names them running: they are passed over, whatever branch is taken" do
      queue = {"to" => "queue", "queue" => "callbacks"}
      publish(
        survey_rule(
          "name" => "First",
          "branches" => [
            {
              "if" => {"all" => [{"field" => "value", "test" => "more", "value" => 5}]},
              "do" => [to({"to" => "person", "person" => "wen"}, fallback: queue)]
            }
          ],
          "otherwise" => [to(queue)]
        )
      )
      publish(
        survey_rule(
          "name" => "Several", "branches" => [{"do" => [to({"to" => "several", "persons" => %w[wen maren]})]}]
        )
      )
      publish(survey_rule("name" => "Alone", "branches" => [{"do" => [to({"to" => "person", "person" => "wen"})]}]))
      wen(active: false)
      make("deal", "stage" => "survey_booked", "value" => 9)
      make("deal", "stage" => "survey_booked", "value" => 1)
      work
      expect(db[:tasks].order(:id).select_map(%i[assignee queue])).to eq([[nil, "callbacks"], ["maren", nil]] * 2)
      expect(
        db[:runs].join(:rules, id: :rule_id).where(Sequel[:runs][:state] => "failed").select_map(%i[name why])
      ).to eq([["Alone", "There is no one to assign to: Wen Zhao has left. Give the action a fallback."]] * 2)
      expect(JSON.parse(db[:runs].order(:id).get(:actions))[0]["reason"]).to include("Wen Zhao has left")
    end

    it "tells the owner of each rule that names them, once" do
      publish(
        survey_rule(
          "name" => "Names Wen",
          "branches" => [
            {"do" => [to({"to" => "person", "person" => "wen"}, fallback: {"to" => "queue", "queue" => "callbacks"})]}
          ]
        )
      )
      publish(survey_rule("name" => "Does not"))
      wen(active: false)
      wen(active: false, name: "Wen Z")
      expect(told).to eq(
        [
          [
            "maren", "Wen Zhao has left. Your rule “Names Wen” leans on that. They are passed over now; look whether " \
            "somebody else should stand there."
          ]
        ]
      )
    end

    it "lets kits in use go on" do
      %w[11-rigging-job 12-launch].each { |name| publish_demo_kit(name) }
      kit = root.kits.compiled(db[:kits].where(key: "launch").get(:version_id))
      boat = make("deal", "launch_date" => "2026-12-15")["id"]
      root.copies.begin(kit, boat, cause:)
      db[:people].where(key: %w[wen tobias callum]).update(active: false)
      root.setup_store.changed(who: "maren", now: Database::NOW)
      root.forget
      root.tasks.finish(
        db[:tasks].where(record_id: boat).get(:id),
        answer: JSON.parse(db[:tasks].where(record_id: boat).get(:answers)).first, cause:
      )
      work
      expect(root.journal.of_kits(boat).map { |entry| entry[:what] }).not_to include("kit_stuck")
      expect(db[:tasks].where(record_id: boat).count).to be > 1
    end
  end

  describe "when a field is taken away" do
    def berth = changes.field("deal", nil, {"label" => "Berth no", "type" => "text"}, cause: maren)

    it "names the rules and kits that lean on it, and goes on only when asked to; their owners are told then" do
      publish(
        survey_rule(
          "name" => "Large ones", "only_if" => {"all" => [{"field" => "value", "test" => "more", "value" => 5}]}
        )
      )
      expect(refused { changes.remove_field("deal", "value", cause: maren) }["field"]).to match(
        /\A“Large ones”.* leans? on the field Value of deals\. Change that first, or take it away all the same\.\z/
      )
      expect(root.schema.kind("deal").field("value")).not_to be_nil
      changes.remove_field("deal", "value", cause: maren, anyway: true)
      expect(told).to eq(
        [
          [
            "maren",
            "The field Value of deals was taken away. Your rule “Large ones” leans on that. What leans on it may " \
            "not run any more; look at it."
          ]
        ]
      )
      root.forget
      make("deal", "stage" => "survey_booked")
      work
      expect(db[:tasks].count).to eq(0)
    end

    it "says the same of stages and choices" do
      publish(survey_rule("name" => "Booked"))
      stages =
        root.schema.kind("deal").stages.reject { |stage| stage.key == "survey_booked" }
          .map { |stage| {"key" => stage.key, "label" => stage.label} }
      expect(refused { changes.stages("deal", stages, cause: maren) }["stages"]).to include(
        "“Booked” leans on Survey booked of deals"
      )
      changes.stages("deal", stages, cause: maren, anyway: true)
      field = root.schema.kind("ticket").field("severity")
      publish(
        "name" => "Unsafe ones", "record" => "ticket", "trigger" => {"when" => "record_made"},
        "only_if" => {"all" => [{"field" => "severity", "test" => "is", "value" => "unsafe"}]},
        "branches" => [{"do" => [to({"to" => "queue", "queue" => "callbacks"})]}]
      )
      given = {
        "label" => field.label, "type" => "choice", "choices" =>
          field.choices.reject { |one| one.key == "unsafe" }.map { |one| {"key" => one.key, "label" => one.label} }
      }
      expect(refused { changes.field("ticket", "severity", given, cause: maren) }["choices"]).to include(
        "“Unsafe ones” leans on Unsafe of Severity"
      )
      expect(changes.field("ticket", "severity", given.merge("anyway" => true), cause: maren)).to eq("severity")
    end

    it "never uses its key again, so that a field of the same name has none of its values" do
      expect(berth).to eq("berth_no")
      id = make("deal", "berth_no" => "A 12")["id"]
      changes.remove_field("deal", "berth_no", cause: maren)
      second = changes.field("deal", nil, {"label" => "Berth no", "type" => "number"}, cause: maren)
      expect([second, root.records.find!(id)[second]]).to eq(["berth_no_2", nil])
      expect(change(id, {"value" => 5, second => 7})).to include("value" => 5, second => 7)
    end

    it "brings it back with its values, in lists too, when that is asked for" do
      berth
      id = make("deal", "berth_no" => "A 12")["id"]
      changes.remove_field("deal", "berth_no", cause: maren)
      expect(root.setup_store.removed_fields("deal").map { |row| row[:key] }).to eq(["berth_no"])
      change(id, {"value" => 5})
      changes.bring_back("deal", "berth_no", cause: maren)
      query =
        Yenvo::Store::Lists::Query.new(
          kind: "deal",
          filters: {"berth_no" => ["A 12"]}, search: nil, sort: "berth_no", down: true, after: nil, limit: 50
        )
      expect(root.lists.page(query)[:rows].map { |row| row["berth_no"] }).to eq(["A 12"])
      expect { changes.bring_back("deal", "berth_no", cause: maren) }.to raise_error(Yenvo::Store::NotFound)
    end
  end

  it "works out why a rule did or did not run with the set-up of then" do
    publish(
      survey_rule("name" => "Ran", "only_if" => {"all" => [{"field" => "value", "test" => "more", "value" => 5}]})
    )
    skipped =
      publish(
        survey_rule(
          "name" => "Skipped", "only_if" => {"all" => [{"field" => "value", "test" => "more", "value" => 5000}]}
        )
      )
    id = make("deal", "stage" => "survey_booked", "value" => 9)["id"]
    work
    changes.remove_field("deal", "value", cause: maren, anyway: true)
    root.forget
    entry = db[:journal].where(record_id: id, what: "record_made").first
    why = Yenvo::Engine::WhyNot.new(root)
    expect(why.skips([entry]).map { |skip| [skip.rule.rule.name, skip.plan.why] }).to eq([["Skipped", "Value is €9"]])
    expect(why.one(entry, skipped[:id]).plan.why).to eq("Value is €9")
    expect(db[:tasks].count).to eq(1)
  end

  it "lets a schedule that is due fire, though a field is changed before any worker comes" do
    publish(
      "name" => "Daily",
      "trigger" => {
        "when" => "schedule", "recurs" => "FREQ=DAILY", "starts" => "2026-11-01", "at" => "15:00", "once" => true
      },
      "branches" => [{"do" => [to({"to" => "queue", "queue" => "callbacks"})]}]
    )
    later = Database::NOW + (4 * 3600)
    changes.field("deal", nil, {"label" => "Colour", "type" => "text"}, cause: maren(at: later))
    work(at: later + 60)
    expect(db[:runs].count).to eq(1)
    rule = db[:rules].get(:id)
    root.rules.pause(rule, cause: maren(at: later + 120))
    work(at: later + (24 * 3600))
    changes.field("deal", nil, {"label" => "Shape", "type" => "text"}, cause: maren(at: later + (25 * 3600)))
    root.rules.resume(rule, late: true, cause: maren(at: later + (26 * 3600)))
    work(at: later + (26 * 3600) + 60)
    expect(db[:runs].count).to eq(2)
  end
end

RSpec.describe "A record that leads to one that is gone" do
  let(:boat) { make("deal", "title" => "Boat")["id"] }
  let(:ticket) { make("ticket", "title" => "Snag", "boat" => boat)["id"] }

  def take_away(id)
    row = root.records.row!(id)
    Yenvo::Store::WorldBack.new(root, {id: 0}, cause).make_record_back("record" => id, "version" => row[:version])
  end

  it "is saved like any other; the link is shown as gone and may stay" do
    ticket
    take_away(boat)
    after = change(ticket, {"severity" => "minor"})
    expect(after).to include("severity" => "minor", "boat" => boat)
    expect(refused { change(ticket, {"boat" => 999_999}) }).to match("boat" => /takes a deal/)
    expect(change(ticket, {"boat" => nil})).not_to have_key("boat")
  end

  it "is named by the preview of the undo that makes it so" do
    publish(
      "name" => "Makes a boat", "record" => "contact", "trigger" => {"when" => "record_made"},
      "branches" => [
        {"do" => [{"action" => "record", "kind" => "deal", "values" => [{"field" => "title", "text" => "New boat"}]}]}
      ]
    )
    make("contact", "title" => "Owner")
    work
    made = db[:records].where(title: "New boat").get(:id)
    make("ticket", "title" => "Leads there", "boat" => made)
    words = root.undo.preview(root.runs.list).map(&:words)
    expect(words).to include("Deal “New boat”; what leads to it will lead to nothing: “Leads there”")
  end

  it "goes through rules that look over the link, which see nothing there" do
    publish(
      "name" => "Looks", "record" => "ticket", "trigger" => {"when" => "record_changed", "field" => "severity"},
      "branches" => [
        {
          "if" => {"all" => [{"field" => "boat.value", "test" => "is_empty"}]},
          "do" => [
            {
              "action" => "task", "title" => "About {{ record.boat }}",
              "assign" => {"to" => "queue", "queue" => "callbacks"}
            }
          ]
        }
      ]
    )
    ticket
    work
    take_away(boat)
    change(ticket, {"severity" => "minor"})
    work
    expect(db[:tasks].select_map(:title)).to eq(["About"])
  end

  describe "when a list is taken away" do
    let(:changes) { Yenvo::Store::SetupChanges.new(root) }
    def maren = cause("maren")
    def told = db[:notices].order(:id).select_map(%i[person text])

    def crew =
      changes.list(
        {
          "label" => "Crew call", "plural" => "Crew calls",
          "sections" => [{"label" => "Asked"}, {"label" => "Sailing"}], "about" => "contact"
        },
        cause: maren
      )

    it "has to be empty, and nothing may lead to it; then it goes, and comes back with its sections and fields" do
      key = crew
      entry = make(key, "title" => "Saturday")["id"]
      expect(refused { changes.remove_list(key, cause: maren) }).to eq(
        "list" => "1 crew call stands on Crew calls. Take it off first, then take the list away."
      )
      root.list_entries.take_off(entry, cause: maren)
      leading = changes.field("deal", nil, {"label" => "Crew", "type" => "link", "links_to" => key}, cause: maren)
      expect(refused { changes.remove_list(key, cause: maren) }).to eq(
        "list" => "Crew of deals can lead to Crew calls. Take that away first."
      )
      changes.remove_field("deal", leading, cause: maren)
      changes.remove_list(key, cause: maren)
      expect([root.schema.kind(key), root.setup_store.removed_lists.map { |row| row[:key] }]).to eq([nil, [key]])
      expect { changes.remove_list(key, cause: maren) }.to raise_error(Yenvo::Store::NotFound)
      expect(refused { root.trash.put_back(entry, cause: maren) }["list"]).to match(/list it stood on was taken away/)
      # Its key is never given to another.
      expect(crew).not_to eq(key)
      changes.bring_list_back(key, cause: maren)
      expect(root.schema.kind(key)).to have_attributes(plural: "Crew calls", stages: have_attributes(size: 2))
      expect(root.trash.put_back(entry, cause: maren)).to include("title" => "Saturday")
      expect { changes.bring_list_back(key, cause: maren) }.to raise_error(Yenvo::Store::NotFound)
      expect { changes.remove_list("deal", cause: maren) }.to raise_error(Yenvo::Store::NotFound)
    end

    it "names the rules that lean on it, and goes on only when asked to; their owners are told, and all others run " \
      "on" do
      key = crew
      publish(survey_rule("name" => "Crew", "record" => key, "trigger" => {"when" => "record_made"}))
      publish(
        survey_rule(
          "name" => "Puts on", "record" => "contact", "trigger" => {"when" => "record_made"},
          "branches" => [{"do" => [{"action" => "list", "put" => "on", "list" => key.delete_prefix("entry/")}]}]
        )
      )
      publish(survey_rule)
      entry = make(key, "title" => "Saturday")["id"]
      work
      root.list_entries.take_off(entry, cause: maren)
      expect(refused { changes.remove_list(key, cause: maren) }["list"]).to match(
        /\A“Crew”, “Puts on” lean on the list Crew calls\./
      )
      changes.remove_list(key, cause: maren, anyway: true)
      expect(told.last).to eq(
        [
          "maren",
          "The list Crew calls was taken away. Your rules “Crew”, “Puts on” lean on that. What leans on it may not " \
          "run any more; look at it."
        ]
      )
      make("contact")
      make("deal", "stage" => "survey_booked")
      work
      expect([root.waiting.count, db[:tasks].where(open: true).select_map(:title)]).to eq(
        [0, ["Call about Quiet Hour"]]
      )
    end
  end

  it "keep one administrator when two take each other's role away at once", :committed do
    was = db[:people].where(key: %w[maren osk]).select_hash(:key, :role)
    db[:people].where(key: "osk").update(role: "administrator")
    said =
      [%w[maren osk], %w[osk maren]].map do |by, whom|
        Thread.new do
          Yenvo::Store::SetupChanges.new(root).leave(whom, cause: cause(by))
          "went"
        rescue Yenvo::Store::Refused => error
          error.message
        end
      end
    expect(said.map(&:value)).to contain_exactly("went", /The last administrator stays/)
  ensure
    was.each { |key, role| db[:people].where(key:).update(role:, active: true) }
    was.each_key { |key| root.people.let_in(key, true) }
    root.setup_store.changed(who: nil, now: Database::NOW)
  end
end
