# frozen_string_literal: true

RSpec.describe Yenvo::Store::Forms, :engine do
  include FormWords

  around { |example| Dir.mktmpdir { |folder| (root.files = folder) && example.run } }

  def send_in(row, given, once: SecureRandom.hex(8), files: [], at: Database::NOW)
    form, = root.forms.read(root.forms.body(row[:key], row[:number]))
    answer, wrong = form.read(given, root.schema)
    raise wrong.inspect if wrong.any?

    root.form_sends.take(row, form, answer, once:, consent: true, files:, cause: Yenvo::Store::Journal::Cause.house(at))
  end

  def asked(**more) = {
    "contact:title" => "Aldo Renn", "contact:email" => "aldo@sea.example", "title" => "Petrel",
    **more.transform_keys(&:to_s)
  }

  it "keeps a draft, with what is wrong with it, and publishes only what is whole" do
    key = root.forms.make("Survey", "entry/survey_requests", cause: cause("maren"))
    first = root.forms.find!(key)
    expect(JSON.parse(first[:draft])["items"].map { |one| one["ask"] }).to eq(%w[contact:title contact:email])
    root.forms.write(key, {"heading" => "", "items" => []}, cause: cause("maren"))
    expect { root.forms.publish(key, cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /heading must have a few words.*items must ask something/
    )
    expect { root.forms.at!(first[:address]) }.to raise_error(Yenvo::Store::NotFound)
    root.forms.write(key, FormWords::SURVEY, cause: cause("maren"))
    expect(root.forms.publish(key, cause: cause("maren"))).to eq(1)
    root.forms.write(key, FormWords::SURVEY.merge("heading" => "Other"), cause: cause("maren"))
    expect(root.forms.at!(first[:address])[1]["heading"]).to eq("Ask for a survey")
    expect(root.forms.publish(key, cause: cause("maren"))).to eq(2)
    expect(root.forms.at!(first[:address])[1]["heading"]).to eq("Other")
    expect([root.forms.body(key, 1)["heading"], root.schema.forms]).to eq(["Ask for a survey", {"survey" => "Survey"}])
  end

  it "writes over nobody's draft" do
    row = a_form
    seen = Yenvo::Core::Reading.moment(row[:written_at])
    root.forms.write(row[:key], FormWords::SURVEY, seen:, cause: cause("maren", at: Database::NOW + 5))
    later = {seen:, cause: cause("maren")}
    expect { root.forms.write(row[:key], {}, **later) }.to raise_error(Yenvo::Store::Conflict, /Maren/)
    expect { root.forms.publish(row[:key], **later) }.to raise_error(Yenvo::Store::Conflict)
  end

  it "never asks a field that was added later, and does without one that is gone" do
    row = a_form
    Yenvo::Store::SetupChanges.new(root).field("entry/survey_requests", nil, {"label" => "Keel", "type" => "text"},
      cause: cause("maren"))
    form, = root.forms.read(root.forms.body(row[:key], 1))
    expect(form.items.map(&:ask)).not_to include("keel")
    expect(Yenvo::Store::RuleUses.new(root).of("field entry/survey_requests wanted_by")).to include(
      hash_including(what: "form", name: "Survey (form)")
    )
    db[:fields].where(kind: "entry/survey_requests", key: "wanted_by").update(removed_at: Database::NOW)
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    form, problems = root.forms.read(root.forms.body(row[:key], 1))
    expect([form.items.map(&:ask), problems.size]).to match([satisfy { |all| !all.include?("wanted_by") }, 1])
    expect(send_in(row, asked)[:record_id]).to be_a(Integer)
  end

  it "makes the record and its contact, and finds that one the next time" do
    row = a_form
    one = send_in(row, asked("contact:phone" => "+353 555 0147"))
    two = send_in(row, asked(:title => "Tern", "contact:email" => "ALDO@sea.example"), at: Database::NOW + 60)
    expect([one[:contact_id], two[:contact_id], db[:records].where(kind: "contact").count]).to eq(
      [one[:contact_id], one[:contact_id], 1]
    )
    expect(root.records.find!(one[:contact_id])).to include("title" => "Aldo Renn", "phone" => "+353 555 0147")
    expect(root.records.find!(two[:record_id])).to include("title" => "Tern", "asked_by" => one[:contact_id])
    details = db[:journal].where(what: "record_made").order(:id).select_map(:detail).map { |text| JSON.parse(text) }
    expect(details).to all(eq("door" => "form", "form" => "survey"))
    expect(db[:interactions].count).to eq(0)
  end

  it "changes nothing of a contact that is there, but fills in what is empty and writes down what differs" do
    row = a_form
    id = make("contact", "title" => "Aldo R.", "email" => "aldo@sea.example")["id"]
    send_in(row, asked("contact:phone" => "+353 555 0147"))
    expect(root.records.find!(id)).to include("title" => "Aldo R.", "phone" => "+353 555 0147")
    expect(db[:interactions].where(record_id: id).select_map(:text)).to eq(
      ["The form “Survey” was sent with this e-mail. It says otherwise: Title: Aldo Renn. Nothing was changed."]
    )
  end

  it "finds the contact that a form about contacts makes, too" do
    items = [{"ask" => "title", "required" => true}, {"ask" => "email", "required" => true}, {"ask" => "berth"}]
    row = a_form("Join", kind: "contact", items:)
    given = {"title" => "Aldo", "email" => "aldo@sea.example"}
    one = send_in(row, given)
    two = send_in(row, {**given, "berth" => "B7", "title" => "Al"})
    expect([two[:record_id], root.records.find!(one[:record_id])]).to match(
      [one[:record_id], include("title" => "Aldo", "berth" => "B7")]
    )
    expect(db[:interactions].get(:text)).to match(/sent again: Title: Al; E-mail: aldo@sea.example; Berth: B7/)
    optional = a_form("Ask", kind: "contact", items: [items[0], {"ask" => "email"}])
    2.times { send_in(optional, {"title" => "Nobody"}) }
    expect(db[:records].where(title: "Nobody").count).to eq(2)
  end

  it "takes each sending once" do
    row = a_form
    expect(send_in(row, asked, once: "a")).to include(form: "survey", number: 1, consent: true)
    expect(send_in(row, asked, once: "a")).to be_nil
    expect(db[:records].where(kind: "entry/survey_requests").count).to eq(1)
  end

  it "keeps nothing where a file is not taken" do
    row = a_form
    refused = -> { db.transaction(savepoint: true) { send_in(row, asked, once: "a", files: [["a.exe", "MZ"]]) } }
    expect(&refused).to raise_error(Yenvo::Store::Refused, /not taken/)
    expect([db[:records].count, db[:form_sends].count]).to eq([0, 0])
    sent = send_in(row, asked, once: "a", files: [["a.txt", "Hull"]])
    expect(root.attachments.of(record_id: sent[:record_id]).map { |one| one[:name] }).to eq(["a.txt"])
  end

  it "lets what it says for sure go when the record it leads to is gone" do
    boat = make("deal")["id"]
    row = a_form(fixed: {"boat" => boat, "stage" => "new"})
    db[:records].where(id: boat).delete
    form, problems = root.forms.read(root.forms.body(row[:key], 1))
    expect([form.fixed, problems.map(&:where)]).to eq([{"stage" => "new"}, ["fixed.boat"]])
    expect(send_in(row, asked)[:record_id]).to be_a(Integer)
  end

  it "is named by rules that ask which form it was, and meets them" do
    row = a_form
    publish("name" => "Sort", "record" => "entry/survey_requests", "trigger" => {"when" => "form_sent"},
      "only_if" => {"all" => [{"field" => "event.form", "test" => "is", "value" => "survey"}]},
      "branches" => [{
        "do" => [{
          "action" => "task", "title" => "Sort {{ record.title }}",
          "assign" => {"to" => "queue", "queue" => "callbacks"}
        }]
      }])
    send_in(row, asked)
    other = a_form("Other")
    send_in(other, asked(title: "Tern"))
    work
    expect(db[:tasks].select_map(:title)).to eq(["Sort Petrel"])
    leans = [Yenvo::Store::Refused, /“Sort” leans on/]
    expect { root.forms.retire(row[:key], cause: cause("maren")) }.to raise_error(*leans)
    root.forms.retire(row[:key], cause: cause("maren"), anyway: true)
    expect { root.forms.at!(row[:address]) }.to raise_error(Yenvo::Store::NotFound)
    root.forms.bring_back(row[:key], cause: cause("maren"))
    expect(root.forms.at!(row[:address])[0][:key]).to eq("survey")
  end

  it "makes one contact of two who send at once", :committed do
    row = a_form
    go = Queue.new
    threads = Array.new(4) do |n|
      Thread.new { go.pop && send_in(row, asked(title: "Boat #{n}")) }
    end
    4.times { go << true }
    threads.each(&:join)
    expect([db[:records].where(kind: "contact").count, db[:links].where(field: "asked_by").count]).to eq([1, 4])
  end
end
