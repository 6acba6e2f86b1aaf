# frozen_string_literal: true

RSpec.describe "How fields are filled in" do
  include DoorWords

  before { sign_in("maren") }

  def fields = JSON.parse(last_response.body)["fields"]
  def set(key, kind: "contact", **given) = call(:put, "/api/setup/fields", kind:, key:, field: given)
  def phone(**given) = set("phone", label: "Phone", **given)
  def email(**given) = set("email", label: "E-mail", **given)
  def add(values, kind: "contact") = call(:post, "/api/records", kind:, values: {title: "Nia Brook", **values})
  def put(id, **values) = call(:patch, "/api/records/#{id}", values:)

  def field(key)
    get_json("/api/setup")["kinds"].find { |one| one["key"] == "contact" }["fields"].find { |one| one["key"] == key }
  end

  it "can be required: of new records, and of old ones when somebody changes them" do
    old = add({})["id"]
    two = add({title: "Osk"})["id"]
    phone(required: true)
    expect([status, fields["required"], JSON.parse(last_response.body)["leaning"]]).to eq(
      [
        422, "2 contacts have no Phone. They stay as they are until somebody changes them. Save once more to ask for " \
             "it.", true
      ]
    )
    phone(required: true, anyway: true)
    expect([status, field("phone")["required"]]).to eq([200, true])
    add({})
    expect([status, fields]).to eq([422, {"phone" => "Phone has to be filled in."}])
    made = add({phone: "+353 555 0147"})["id"]
    put(made, phone: nil)
    expect([status, fields]).to eq([422, {"phone" => "Phone has to be filled in."}])
    expect(get_json("/api/records/#{old}")["record"]["shown"]).not_to have_key("phone")
    put(old, title: "Nia B")
    expect([status, fields]).to eq([422, {"phone" => "Phone has to be filled in."}])
    # Whoever lacks two fills in one after the other.
    email(required: true, anyway: true)
    put(old, phone: "+353 555 0100")
    expect(status).to eq(200)
    put(old, title: "Nia B")
    expect([status, fields.keys]).to eq([422, ["email"]])
    # What a rule or a hand-over does to a record that lacks one goes on; none empties it.
    root.records.change(two, {"owner" => "osk"}, cause:)
    expect { root.records.change(made, {"phone" => ""}, cause:) }.to raise_error(Yenvo::Store::Refused)
    phone(required: false)
    add({email: "nia@brook.example"})
    expect(status).to eq(201)
  end

  it "can be unique: the second is refused, without case, also when it is changed to or brought back" do
    first = add({email: "nia@brook.example"})["id"]
    email(unique: true)
    expect(status).to eq(200)
    add({email: "NIA@brook.example"})
    expect([status, fields]).to eq(
      [422, {"email" => "E-mail NIA@brook.example stands on another contact already, and each stands once."}]
    )
    other = add({email: "osk@brook.example"})["id"]
    put(other, email: "nia@brook.example")
    expect(status).to eq(422)
    put(first, email: nil)
    third = add({email: "wen@brook.example"})["id"]
    put(third, email: "nia@brook.example")
    expect(status).to eq(200)
    put(first, email: "nia@brook.example")
    expect(status).to eq(422)
    email(unique: false)
    add({email: "nia@brook.example"})
    expect(status).to eq(201)
    email(unique: true)
    expect([status,
      fields]).to eq([422, {"unique" => "1 value stands on several contacts already. Change these first."}])
    set("adviser", label: "Adviser", unique: true)
    expect([status, fields.keys]).to eq([422, ["unique"]])
  end

  it "tells values apart by an accent, and frees those of what is taken away and keeps them again when it is back" do
    call(:post, "/api/setup/fields", kind: "entry/gear_rounds", field: {label: "Nick", type: "text", unique: true})
    nick = ->(value, title) { add({title:, nick: value}, kind: "entry/gear_rounds")["id"] }
    first = nick.call("José", "One")
    nick.call("Jose", "Two")
    expect(status).to eq(201)
    call(:delete, "/api/records/#{first}/lists")
    expect(status).to eq(200), last_response.body
    nick.call("José", "Three")
    expect(status).to eq(201)
    call(:post, "/api/records/#{first}/trash")
    expect([status, fields.keys]).to eq([422, ["nick"]])
  end

  it "can begin with a value, be explained, and stand in groups and an order" do
    set("country", label: "Country", choices: [{key: "ireland", label: "Ireland"}, {key: "france", label: "France"}],
      default: "france", help: "Where they live", group: "Home")
    expect(field("country")).to include("default" => "france", "help" => "Where they live", "group" => "Home")
    expect(add({})["shown"]["country"]).to eq("France")
    expect(add({country: "ireland"})["shown"]["country"]).to eq("Ireland")
    phone(default: "no phone at all, is it")
    expect([status, fields.keys]).to eq([422, ["default"]])
    phone(help: "x" * 400)
    expect([status, fields.keys]).to eq([422, ["help"]])
    own = get_json("/api/setup")["kinds"].find { |one| one["key"] == "contact" }["fields"]
      .reject { |one| one["built_in"] }.map { |one| one["key"] }
    call(:put, "/api/setup/field-order", kind: "contact", keys: own.reverse)
    expect(status).to eq(200)
    fresh = get_json("/api/setup")["kinds"].find { |one| one["key"] == "contact" }["fields"]
    expect(fresh.reject { |one| one["built_in"] }.map { |one| one["key"] }).to eq(own.reverse)
    call(:put, "/api/setup/field-order", kind: "contact", keys: own.drop(1))
    expect(status).to eq(422)
  end

  it "are asked of programs and of rules that make records too" do
    set("country", label: "Country", choices: [{key: "ireland", label: "Ireland"}])
    call(:post, "/api/setup/fields", kind: "ticket", field: {label: "Serial", type: "text", required: true})
    rule = {"format" => "yenvo-rule/1", "record" => "deal"}.merge(
      survey_rule("branches" => [{
        "do" => [{
          "action" => "record", "kind" => "ticket",
          "values" => [{"field" => "title", "value" => "Look"}]
        }]
      }])
    )
    problems = call(:post, "/api/try/check", rule:)["problems"]
    expect(problems.to_s).to include("must set Serial, which every ticket needs")
    door = a_door
    call(:post, "/api/setup/fields", kind: "entry/words_about_us",
      field: {label: "Code", type: "text", required: true, help: "On the bill"})
    taken = root.arrivals.take(door, an_event, cause: Yenvo::Store::Journal::Cause.house(Database::NOW))
    expect(taken.row[:reason]).to include("must fill in Code, which every mention has to have")
  end

  it "are of lists of which none has the name of another" do
    call(:post, "/api/setup/lists", label: "Deal", plural: "deals", sections: [{label: "New"}])
    expect([status, fields]).to eq(
      [422, {"plural" => "There are deals already; two of the same name could not be told apart."}]
    )
  end

  it "is refused the second time also when two are saved at once", :committed do
    email(unique: true)
    done = Array.new(4) do |i|
      Thread.new do
        root.records.make("contact", {"title" => "C#{i}", "email" => "same@brook.example"}, cause:)
        1
      rescue Yenvo::Store::Refused
        0
      end
    end
    expect(done.sum(&:value)).to eq(1)
    email(unique: false)
  end
end
