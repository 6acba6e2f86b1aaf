# frozen_string_literal: true

require "rotp"

RSpec.describe "The audit" do
  def audit(**given) = get_json("/api/audit?#{URI.encode_www_form(given)}")["rows"]
  def told(**given) = audit(**given).map { |row| "#{row["name"]} #{row["words"]}" }
  def changes = audit[0]["changes"].map { |one| one.values_at("label", "before", "after") }

  it "tells of each change of set-up and people, in words, with before and after" do
    sign_in("maren")
    call(:post, "/api/setup/fields", kind: "deal", field: {label: "Mast height", type: "number", unit: "m"})
    expect(status).to eq(201), last_response.body
    expect(told.first).to eq("Maren Oduya added the field Mast height of Deals")
    call(:put, "/api/setup/fields", kind: "deal", key: "mast_height", field: {label: "Height of mast", unit: "m"})
    expect(told.first).to eq("Maren Oduya changed the field Height of mast of Deals")
    expect(changes).to eq([["name of one", "Mast height", "Height of mast"]])
    call(:delete, "/api/setup/fields", kind: "deal", key: "mast_height")
    expect(changes).to eq([["taken away", "no", "yes"]])
    call(:put, "/api/setup/lists", kind: "deal", plural: "Jobs")
    expect([told.first, changes]).to eq(
      ["Maren Oduya changed the records Jobs", [["name of many", "Deals", "Jobs"]]]
    )
    call(
      :put, "/api/setup/persons", key: "wen",
      person: {
        name: "Wen Zhao", email: "wen@fennick.example", role: "lead", teams: %w[accounts yard_crew], team: "accounts",
        absences: [{from: "2026-12-01", to: "2026-12-02"}]
      }
    )
    expect(changes).to contain_exactly(
      %w[role member lead], ["work counts for", "Yard crew", "Accounts"], ["teams", "Yard crew", "Accounts, Yard crew"],
      ["absences", nil, "2026-12-01 to 2026-12-02"]
    )
    house = get_json("/api/setup/house")["house"]
    rest = {"from" => "2026-12-24", "to" => "2027-01-01", "name" => "Shut"}
    call(:put, "/api/setup/house", house: {**house, "zone" => "Europe/Riga", "days_off" => [rest]})
    expect(told.first(2)).to contain_exactly(
      "Maren Oduya changed the setting days off", "Maren Oduya changed the setting zone"
    )
    expect(audit.find { |row| row["words"].end_with?("days off") }["changes"][0]["after"]).to eq(
      "Shut 2026-12-24 to 2027-01-01"
    )
    call(:put, "/api/setup/desks/queues", key: "money", queue: {name: "Money", team: "accounts", kinds: ["deal"]})
    expect(changes).to eq([["kinds", nil, "Jobs"]])
    call(:put, "/api/setup/second-step", roles: ["lead"])
    expect(told.first).to eq("Maren Oduya changed the setting second step")
    secret = call(:post, "/api/doors", name: "Feed", kind: "entry/gear_rounds")["secret"]
    expect(told.first).to eq("Maren Oduya added the door Feed")
    expect(audit.to_s).not_to include(secret)
    expect(audit.to_s).not_to include(OpenSSL::Digest::SHA256.hexdigest(secret))
  end

  it "tells of rules and kits: published, paused, resumed, moved, retired" do
    sign_in("maren")
    rule = {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule)
    id = call(:post, "/api/rules", rule:)["id"]
    call(:post, "/api/rules/#{id}/publish", rule:, stamp: 1)
    expect(told.first).to eq("Maren Oduya published version 1 of the rule “Survey booked”")
    other = rule.merge("name" => "Survey is booked")
    call(:put, "/api/rules/#{id}/draft", rule: other)
    call(:post, "/api/rules/#{id}/publish", rule: other)
    expect(told.first).to eq("Maren Oduya published version 2 of the rule “Survey is booked”")
    expect(changes.flatten.compact.join(" ")).to include("Survey is booked")
    call(:post, "/api/rules/#{id}/pause")
    call(:post, "/api/rules/#{id}/resume", {})
    call(:put, "/api/rules/#{id}/position", before: nil)
    expect(told(what: "rules").first(3)).to eq(
      [
        "Maren Oduya moved the rule “Survey is booked” to place 1",
        "Maren Oduya resumed the rule “Survey is booked”", "Maren Oduya paused the rule “Survey is booked”"
      ]
    )
    publish_demo_kit("11-rigging-job")
    kit = db[:kits].where(name: "Rigging job").get(:id)
    call(:post, "/api/kits/#{kit}/retire", retired: true)
    expect(told(what: "kits")).to match([/retired the kit/, /published version 1 of the kit/])
  end

  it "tells who took data out: files of tasks, rules as files" do
    Dir.mktmpdir do |folder|
      root.files = folder
      task = root.tasks.make({"title" => "Look at the keel"}, cause:)
      file = root.attachments.add({task_id: task[:id]}, "keel.txt", "Sound", cause:)
      rule = publish(survey_rule)[:id]
      [["hollie", "/api/tasks/files/#{file[:id]}"], ["maren", "/api/rule-files/#{rule}"]].each do |who, path|
        sign_in(who)
        get path
        expect(status).to eq(200)
      end
      sign_in("maren")
      expect(told(what: "taken_out")).to eq(
        [
          "Maren Oduya took out the rule “Survey booked” as a file",
          "Hollie Banner took out the file “keel.txt” of the task “Look at the keel”"
        ]
      )
    end
  end

  it "tells who signed in or failed to, from where, and what was done to passwords and second steps" do
    call(:post, "/api/sign-in", email: "hollie@fennick.example", password: "guess")
    call(:post, "/api/sign-in", email: "nobody@fennick.example", password: "guess")
    sign_in("hollie")
    call(:post, "/api/change-password", password: Yenvo::Settings::DEMO_PASSWORD, "new-password": "felt hammer oak")
    offered = call(:post, "/api/otp-setup", {})
    call(
      :post, "/api/otp-setup", password: "felt hammer oak", otp: ROTP::TOTP.new(offered["otp_secret"]).now,
      **offered.slice("otp_secret", "otp_raw_secret")
    )
    call(:delete, "/api/me/sessions", id: "none of theirs")
    call(:delete, "/api/me/sessions", id: nil)
    call(:post, "/api/sign-out")
    @token = nil
    call(:post, "/api/sign-in", email: "hollie@fennick.example", password: "felt hammer oak")
    @token = nil
    call(:post, "/api/otp-auth", otp: "000000")
    sign_in("maren")
    call(:delete, "/api/setup/second-step", person: "hollie")
    call(:post, "/api/setup/links", person: "hollie")
    expect(told(what: "sign_in").reverse).to eq(
      [
        "Hollie Banner failed to sign in, with a wrong password",
        "Somebody tried to sign in with an address that nobody has",
        "Hollie Banner signed in", "Hollie Banner changed their password", "Hollie Banner set up a second step",
        "Hollie Banner ended all their other sessions", "Hollie Banner signed out",
        "Hollie Banner signed in with the password; the second step is to come",
        "Hollie Banner failed at the second step",
        "Maren Oduya signed in", "Maren Oduya took away the second step of Hollie Banner",
        "Maren Oduya made a link with which Hollie Banner chooses a password"
      ]
    )
    expect(audit(what: "sign_in").last["address"]).to eq("127.0.0.1")
    expect(audit.to_s).not_to include("guess")
  end

  it "is filtered by kind, person and days, and goes on by key" do
    root.audit.note("setup", "did an old thing", who: "tobias", at: Time.utc(2026, 10, 1, 12))
    60.times { |i| root.audit.note("setup", "did thing #{i}", who: "maren", at: Database::NOW) }
    sign_in("maren")
    page = get_json("/api/audit?what=setup")
    expect([page["rows"].size, page["more"], page["rows"][0]["words"]]).to eq([50, true, "did thing 59"])
    rest = get_json("/api/audit?what=setup&before=#{page["rows"].last["id"]}")
    expect([rest["rows"].size, rest["more"]]).to eq([11, false])
    expect(told(who: "tobias")).to eq(["Tobias Kell did an old thing"])
    expect(told(from: "2026-10-01", till: "2026-10-01")).to eq(["Tobias Kell did an old thing"])
    expect(told(till: "2026-09-30")).to eq([])
    get_json("/api/audit?from=tomorrow")
    expect(status).to eq(422)
  end

  it "is written in the transaction of what it tells of, and never changed" do
    sign_in("maren")
    before = db[:audit].count
    call(:post, "/api/setup/fields", kind: "deal", field: {label: "", type: "number"})
    expect([status, db[:audit].count]).to eq([422, before])
    root.audit.note("setup", "did it", who: "maren", at: Database::NOW)
    [-> { db[:audit].update(words: "x") }, -> { db[:audit].delete }].each do |attempt|
      expect {
        db.transaction(savepoint: true) {
          attempt.call
        }
      }.to raise_error(Sequel::DatabaseError, /only ever added/)
    end
  end

  it "is administrators' alone" do
    sign_in("tobias")
    get_json("/api/audit")
    expect(status).to eq(403)
  end
end
