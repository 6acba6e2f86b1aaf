# frozen_string_literal: true

RSpec.describe "The set-up over the API" do
  before { sign_in("maren") }

  def kind(setup, key) = setup["kinds"].find { |one| one["key"] == key }
  def field_of(setup, kind_key, key) = kind(setup, kind_key)["fields"].find { |one| one["key"] == key }
  def add(field, of: "deal") = call(:post, "/api/setup/fields", kind: of, field:)
  def sentence = JSON.parse(last_response.body)["fields"].values.first

  it "adds and changes fields of every type, and records take them at once" do
    Yenvo::Core::Schema::TYPES.each do |type|
      made =
        add(
          {
            "label" => "My #{type}", "type" => type,
            "choices" => %w[choice choices].include?(type) ? [{"label" => "Red"}, {"label" => "Blue sky"}] : [],
            "links_to" => ("contact" if type == "link"), "unit" => nil
          }
        )
      expect(status).to eq(201), last_response.body
      expect(field_of(made["setup"], "deal", made["key"])).to include("type" => type, "label" => "My #{type}")
    end
    deal =
      call(
        :post, "/api/records", kind: "deal",
        values: {"title" => "Quiet Hour", "my_choice" => "blue_sky", "my_number" => 4}
      )
    expect(deal["shown"]).to include("my_choice" => "Blue sky", "my_number" => "4")
    changed =
      call(
        :put, "/api/setup/fields", kind: "deal", key: "my_choice",
        field: {label: "Colour", choices: [{key: "blue_sky", label: "Sky"}, {label: "Green"}]}
      )
    expect(field_of(changed["setup"], "deal", "my_choice")).to include(
      "label" => "Colour",
      "choices" => [{"key" => "blue_sky", "label" => "Sky"}, {"key" => "green", "label" => "Green"}]
    )
    call(
      :put, "/api/setup/fields", kind: "deal", key: "my_choice", field: {label: "Colour", choices: [{label: "Only"}]}
    )
    expect([status, sentence]).to eq([422, "1 deal has Sky. Change it first, then take the choice away."])
    call(:delete, "/api/setup/fields", kind: "deal", key: "my_number")
    expect(get_json("/api/records/#{deal["id"]}")["record"]["shown"]).not_to have_key("my_number")
  end

  it "adds worked-out fields, right at once for the records there are, and says what is wrong with a formula" do
    make("deal", "title" => "Old", "value" => 100)
    add({"label" => "With tax", "type" => "money", "unit" => "€", "formula" => "value * 1.2"})
    work
    expect(get_json("/api/records?kind=deal&sort=with_tax")["rows"].map { |row| row["shown"]["with_tax"] }).to eq(
      ["€120"]
    )
    {
      "valu * 2" => /there is no "valu"/, "value +" => /must be a whole formula/, "title" => /must come to a number/
    }.each do |formula, text|
      add({"label" => "Wrong", "type" => "number", "formula" => formula})
      expect([status, sentence]).to match([422, text])
    end
    call(:put, "/api/setup/fields", kind: "deal", key: "with_tax", field: {label: "With tax", formula: "with_tax + 1"})
    expect([status, sentence]).to match([422, /lead back to itself|does not/])
    expect(call(:post, "/api/setup/formula", kind: "deal", formula: "=count(ticket.boat)")).to eq(
      "problems" => [], "type" => "number"
    )
  end

  it "changes stages and sections, adds lists, and keeps records from losing theirs" do
    stages = kind(get_json("/api/setup"), "deal")["stages"]
    changed = call(:put, "/api/setup/stages", kind: "deal", stages: [{label: "First look"}, *stages])
    expect(kind(changed["setup"], "deal")["stages"].first).to eq("key" => "first_look", "label" => "First look")
    make("deal", "stage" => "quoted")
    call(:put, "/api/setup/stages", kind: "deal", stages: stages.reject { |one| one["key"] == "quoted" })
    expect([status, sentence]).to eq([422, "1 deal stands in Quoted. Move it first, then take it away."])
    list =
      call(
        :post, "/api/setup/lists", label: "Wish", plural: "Wish list", about: "deal",
        sections: [{label: "New"}, {label: "Granted"}]
      )
    expect(list["key"]).to eq("entry/wish_list")
    deal = make("deal")["id"]
    call(:post, "/api/records/#{deal}/lists", list: "entry/wish_list")
    expect(status).to eq(201)
    call(:post, "/api/records/#{deal}/lists", list: "entry/wish_list")
    expect([status, sentence]).to eq([422, "It stands on Wish list already."])
    call(:delete, "/api/records/#{root.list_entries.of(deal, "entry/wish_list").first}/lists")
    expect([status, root.list_entries.of(deal, "entry/wish_list")]).to eq([200, []])
  end

  it "renames a list and other kinds of records" do
    renamed =
      kind(
        call(:put, "/api/setup/lists", kind: "entry/gear_rounds", plural: "Gear checks", label: "Check")["setup"],
        "entry/gear_rounds"
      )
    expect(renamed.values_at("plural", "label")).to eq(["Gear checks", "Check"])
    renamed = call(:put, "/api/setup/lists", kind: "ticket", plural: "Repairs", label: "Repair", stage_label: "Step")
    expect(renamed["setup"]["kinds"].find { |kind| kind["key"] == "ticket" }).to include(
      "plural" => "Repairs", "label" => "Repair", "stage_label" => "Step",
      "fields" => include(hash_including("key" => "stage", "label" => "Step"))
    )
    expect(call(:put, "/api/setup/lists", kind: "ticket", plural: "deals")["fields"]).to match(
      "plural" => /There are Deals already/
    )
    expect(call(:put, "/api/setup/lists", kind: "ticket", stage_label: "x" * 31)["fields"]).to match(
      "stage_label" => /at most 30/
    )
    call(:put, "/api/setup/lists", kind: "entry/gear_rounds", plural: " ")
    expect([status, sentence]).to eq([422, "What many are called takes a few words."])
  end

  it "adds persons with a password that is shown once, and keeps their absences" do
    given = {
      name: "Nia Brook", email: "nia@fennick.example", role: "member", team: "accounts", active: true,
      absences: [{from: "2026-12-01", to: "2026-12-05"}]
    }
    made = call(:post, "/api/setup/persons", person: given)
    expect([status, made["key"], made["link"]]).to match([201, "nia_brook", %r{\A/welcome#}])
    call(:post, "/api/setup/persons", person: given.merge(name: "Another"))
    expect([status, sentence]).to eq([422, "Somebody else has that already; choose another."])
    call(
      :put, "/api/setup/persons", key: "maren",
      person: given.merge(name: "Maren", email: "maren@fennick.example", role: "member")
    )
    expect([status, sentence]).to eq([422, "You cannot take away your own access."])
    clear_cookies
    @token = nil
    call(:post, "/api/reset-password", key: made["link"].split("#").last, password: "felt hammer oak")
    expect(status).to eq(200)
    @token = nil
    call(:post, "/api/sign-in", email: "nia@fennick.example", password: "felt hammer oak")
    expect(status).to eq(200)
  end

  it "tells which rules lean on what, and which watch a section" do
    row =
      publish(survey_rule("only_if" => {"all" => [{"field" => "survey_type", "test" => "is", "value" => "damage"}]}))
    kit = Yenvo::Core::Kits::KitReader.read!(Builders.launch_kit(target: "launch_date", queue: "yard_work"))
    root.kits.make(kit, cause: cause("maren"))
    uses = ->(what) { get_json("/api/setup/uses?of=#{what.tr(" ", "+")}")["rules"].map { |one| one["name"] } }
    expect(
      [
        uses.call("field deal survey_type"), uses.call("choice deal survey_type damage"),
        uses.call("stage deal survey_booked"), uses.call("queue callbacks"), uses.call("field deal value"),
        uses.call("field ticket boat"), uses.call("field deal launch_date"), uses.call("field deal surveyor"),
        uses.call("queue yard_work")
      ]
    ).to eq(
      [
        ["Survey booked"], ["Survey booked"], ["Survey booked"], ["Survey booked"], [],
        ["Open tickets (worked-out field of deals)"], ["Launch"], ["Launch"], ["Launch"]
      ]
    )
    expect(get_json("/api/setup/watching?kind=deal")["stages"]).to eq(
      "survey_booked" => [{"id" => row[:id], "name" => "Survey booked"}]
    )
  end

  it "says of a rule that no longer fits the set-up that it does not run" do
    row =
      publish(survey_rule("only_if" => {"all" => [{"field" => "survey_type", "test" => "is", "value" => "damage"}]}))
    expect(get_json("/api/rules")["rules"].map { |rule| rule["broken"] }).to eq([false])
    refusal = call(:delete, "/api/setup/fields", kind: "deal", key: "survey_type")
    expect([status, refusal["leaning"], refusal["fields"]["field"]]).to match(
      [422, true, /“Survey booked” leans on the field Survey type of deals/]
    )
    call(:delete, "/api/setup/fields", kind: "deal", key: "survey_type", anyway: true)
    expect(get_json("/api/setup/removed?kind=deal")["fields"].map { |field| field["key"] }).to eq(["survey_type"])
    expect(get_json("/api/rules")["rules"].map { |rule| rule["broken"] }).to eq([true])
    found = get_json("/api/rules/#{row[:id]}")
    expect(
      [found["broken"], call(:post, "/api/try/check", rule: found["rule"])["problems"].map { |one| one["text"] }]
    ).to match([true, [/there is no "survey_type"/]])
    call(:post, "/api/setup/removed", kind: "deal", key: "survey_type")
    expect([status, get_json("/api/rules")["rules"].map { |rule| rule["broken"] }]).to eq([200, [false]])
  end

  it "is changed by administrators alone" do
    sign_in("tobias")
    [
      [:post, "fields", {kind: "deal", field: {label: "x", type: "text"}}],
      [:put, "fields", {kind: "deal", key: "value", field: {label: "x"}}],
      [:delete, "fields", {kind: "deal", key: "value"}], [:put, "stages", {kind: "deal", stages: []}],
      [:put, "lists", {kind: "entry/gear_rounds", label: "Round"}],
      [:post, "lists", {label: "x", plural: "y", sections: []}],
      [:post, "persons", {person: {name: "x", email: "x@y.z", role: "member"}}],
      [:put, "persons", {key: "wen", person: {name: "x", email: "x@y.z", role: "member"}}]
    ].each do |verb, path, body|
      call(verb, "/api/setup/#{path}", body)
      expect(status).to eq(403), "#{verb} #{path}"
    end
    expect(get_json("/api/setup")["people"].map { |one| one["email"] }.uniq).to eq([nil])
  end

  it "takes a list away and brings it back, for administrators, and says so to whoever stands on what is gone" do
    sign_in("hollie")
    call(:delete, "/api/setup/lists", kind: "entry/survey_requests")
    expect(status).to eq(403)
    expect([get_json("/api/setup/removed-lists"), status][1]).to eq(403)
    entry = make("entry/survey_requests", "title" => "Sound")["id"]
    sign_in("maren")
    call(:delete, "/api/setup/lists", kind: "entry/survey_requests", anyway: true)
    expect(status).to eq(422)
    # However it comes about that an entry is left behind.
    db[:kinds].where(key: "entry/survey_requests").update(removed_at: Database::NOW)
    root.setup_store.changed(who: "maren", now: Database::NOW)
    paths = [
      "/api/records/#{entry}", "/api/records/#{entry}/ahead", "/api/records/#{entry}/history?before=99999999",
      "/api/records?kind=entry/survey_requests", "/api/trail?record=#{entry}&result=all", "/api/find?text=sound"
    ]
    expect(paths.map { |path| get_json(path) && status }).to eq([404, 200, 200, 422, 200, 200])
    call(:patch, "/api/records/#{entry}", values: {title: "x"})
    expect(status).to eq(404)
    expect(get_json("/api/setup/removed-lists")["lists"].map { |list| list["key"] }).to eq(["entry/survey_requests"])
    answer = call(:post, "/api/setup/removed-lists", kind: "entry/survey_requests")
    expect([status, answer["setup"]["kinds"].map { |kind| kind["key"] }]).to match(
      [200, include("entry/survey_requests")]
    )
    expect([get_json("/api/records/#{entry}"), status][1]).to eq(200)
  end
end
