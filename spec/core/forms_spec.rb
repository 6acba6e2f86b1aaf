# frozen_string_literal: true

RSpec.describe Yenvo::Core::FormReader do
  def plain(**more)
    {
      "kind" => "deal", "heading" => "Ask", "contact" => "boat_owner",
      "items" => [{"ask" => "contact:email", "required" => true}, {"ask" => "title"}], **more.transform_keys(&:to_s)
    }
  end

  def form(**more) = described_class.read(plain(**more), a_schema)[0]
  def problems(**more) = described_class.read(plain(**more), a_schema)[1].map { |one| "#{one.where} #{one.text}" }

  it "reads what is asked, in order, with its own words and those that are usual" do
    read = form(items: [{"ask" => "contact:email", "label" => " Your  e-mail ", "help" => "x"}, {"ask" => "files"}])
    expect(read.items.map { |one| [one.ask, one.label, one.help, one.type] }).to eq(
      [["contact:email", "Your  e-mail", "x", "email"], ["files", "Files", nil, "files"]]
    )
    expect(read.words).to include("button" => "Send", "thanks" => /Thank you/, "consent" => nil)
    expect([read.finder.key, read.link.key, problems]).to eq(["email", "boat_owner", []])
  end

  it "says all that is wrong with it, and where" do
    {
      {kind: "ship"} => /kind must be a kind of record/, {heading: " "} => /heading must have a few words/,
      {items: []} => /items must ask something/,
      {items: [{"ask" => "title"}, {"ask" => "title"}]} => /items\[2\].ask must be asked once/,
      {items: [{"ask" => "nope"}]} => /items\[1\].ask must be a field of Deals; "nope" is none/,
      {items: [{"ask" => "owner"}]} => /Owner is kept by Yenvo/, {items: [{"ask" => "stage"}]} => /Stage is kept/,
      {items: [{"ask" => "boat_owner"}]} => /takes a link of the house/,
      {items: [{"ask" => "contact:adviser"}]} => /takes a person of the house/,
      {contact: nil} => /contact must be a link to the contact, since the form asks about one/,
      {contact: "title"} => /contact must be a link of Deals to a contact/,
      {items: [{"ask" => "title"}]} => /items must ask an e-mail of the contact/,
      {fixed: {"stage" => "sunk"}} => /fixed.stage must be of use: Stage/,
      {fixed: {"made" => "2026-01-01"}} => /fixed.made must be a field that can be set/,
      {fixed: {"nope" => 1}} => /fixed.nope must be a field of Deals/,
      {fixed: {"title" => "x"}} => /fixed.title must not be asked/,
      {origins: ["https://a.example/x"]} => /origins\[1\] must be the beginning of an address/,
      {origins: ["https://a.example; script-src *"]} => /origins\[1\]/, {origins: ["*"]} => /origins\[1\]/,
      {thanks: "x" * 2_001} => /thanks must have at most 2,000 characters; this has 2,001/,
      {items: Array.new(61) { |i| {"ask" => "f#{i}"} }} => /items must be at most 60; this has 61/
    }.each { |more, sentence| expect(problems(**more)).to include(sentence), more.inspect }
  end

  it "asks for what every record of the kind has to have" do
    deal = a_schema.kind("deal")
    own = deal.own_fields.map { |one| (one.key == "value") ? one.with(required: true) : one }
    schema = a_schema.with_kind(deal.with_fields(own))
    read = ->(**more) { described_class.read(plain(**more), schema)[1].map(&:text) }
    expect(read.call).to include(/must fill in Value, which every deal has to have/)
    expect(read.call(fixed: {"value" => 5})).to eq([])
    items = [{"ask" => "contact:email"}, {"ask" => "value"}]
    expect(read.call(items:)).to include(/must fill in Value/)
    expect(read.call(items: [items[0], items[1].merge("required" => true)])).to eq([])
  end

  it "says what it leans on in the set-up" do
    uses = form(fixed: {"stage" => "quoted", "owner" => "callum"}).uses
    expect(uses).to include(
      "kind deal", "field contact email", "field deal title", "field deal boat_owner", "stage deal quoted",
      "person callum", "field deal owner"
    )
  end

  describe "an answer" do
    it "is read by the types of the fields, and named by the form's own words" do
      items = [
        {"ask" => "contact:email", "label" => "Your e-mail", "required" => true}, {"ask" => "value", "label" => "Sum"}
      ]
      _, wrong = form(items:).read({"value" => "much", "other" => "x"}, a_schema)
      expect(wrong).to match("contact:email" => "Your e-mail has to be filled in.", "value" => /\ASum takes a number/)
      answer, wrong = form(items:).read({"value" => "12.5", "contact:email" => " a@sea.example "}, a_schema)
      expect([wrong, answer.email, answer.contact]).to eq(
        [{}, "a@sea.example", {"title" => "a@sea.example", "email" => "a@sea.example"}]
      )
      expect(answer.record).to eq("value" => 12.5, "title" => "a@sea.example")
    end

    it "takes what is fixed, and calls the record by what is known of it" do
      answer, = form(fixed: {"stage" => "quoted"}).read({}, a_schema)
      expect(answer.record).to eq("stage" => "quoted", "title" => "Ask")
      contact = [{"ask" => "title"}, {"ask" => "email"}]
      one = form(kind: "contact", contact: nil, items: contact)
      answer, = one.read({"email" => "b@sea.example"}, a_schema)
      expect([one.of_contact?, answer.record["title"], answer.contact, answer.email]).to eq(
        [true, "b@sea.example", {}, "b@sea.example"]
      )
    end
  end
end
