# frozen_string_literal: true

RSpec.describe "Yenvo::Store::Records" do
  it "makes a record with the usual values and its entry in the journal" do
    deal = make("deal", "value" => "4,350", "boat_length" => "9.1")
    expect(deal).to include(
      "title" => "Quiet Hour", "stage" => "enquiry", "owner" => "hollie", "creator" => "hollie", "value" => 4350,
      "boat_length" => 9.1, "version" => 1, "visit" => 1
    )
    expect(root.records.find!(deal["id"])).to eq(deal)
    expect(db[:journal].where(record_id: deal["id"]).select_map(%i[what who record_version])).to eq(
      [["record_made", "hollie", 1]]
    )
    expect(root.waiting.count).to eq(1)
  end

  it "answers bad values with a sentence at each field, and keeps nothing" do
    wrong =
      refused do
        make(
          "deal", "title" => " ", "value" => "much", "survey_date" => "2026-02-31", "survey_type" => "sail",
          "surveyor" => "nobody", "price" => 1, "version" => 9, "boat_owner" => 999_999, "deposit_in" => "maybe"
        )
      end
    expect(wrong.keys).to match_array(%w[value survey_date survey_type surveyor price version boat_owner deposit_in])
    expect(wrong["survey_date"]).to eq("Survey date: 2026-02-31 is not a day of the calendar. Choose another.")
    expect(refused { make("deal", "title" => " ") }).to eq(
      "title" => "Title takes a few words by which people know the deal."
    )
    expect(refused { make("ticket", "found" => "x" * 1_000_000) }["found"]).to eq(
      "What was found takes at most 20,000 characters; this has 1,000,000. Shorten it."
    )
    expect(refused { make("deal", "stage" => "") }).to eq("stage" => "Stage cannot be empty.")
    expect(db[:records].count).to eq(0)
    expect { make("ship") }.to raise_error(Yenvo::Store::NotFound, /no kind of record "ship"/)
  end

  it "refuses a link to a record of another kind" do
    ticket = make("ticket")
    expect(refused { make("deal", "boat_owner" => ticket["id"]) }["boat_owner"]).to eq(
      "Owner of the boat takes a contact; record #{ticket["id"]} is none."
    )
  end

  it "changes only what differs, and counts visits to a stage" do
    id = make("deal")["id"]
    expect(change(id, {"stage" => "enquiry"})["version"]).to eq(1)
    expect(change(id, {"stage" => "quoted", "value" => 5}, at: Database::NOW + 60)).to include(
      "visit" => 2, "version" => 2, "stage_since" => "2026-11-24T12:01:00.000000Z", "value" => 5
    )
    expect(change(id, {"value" => nil})).not_to have_key("value")
    entry = root.history.of_record(id)[1]
    expect(entry["changes"].map { |one| one.values_at("label", "from", "to") }).to contain_exactly(
      %w[Stage Enquiry Quoted], %w[Value empty €5]
    )
  end

  it "tells the second of two people who edit the same field, with both values, and loses nothing" do
    id = make("deal", "value" => 100)["id"]
    change(id, {"value" => 200}, who: "osk", version: 1)
    expect { change(id, {"value" => 300}, version: 1) }.to raise_error(Yenvo::Store::Conflict) { |error|
      expect(error.message).to eq(
        "Somebody else changed Value while you were editing. Nothing was saved; choose which value stands."
      )
      expect(error.details[:conflicts]).to match(
        [hash_including("label" => "Value", "yours" => "€300", "theirs" => "€200", "who" => "Osk Lindahl")]
      )
    }
    expect(root.records.find!(id)["value"]).to eq(200)
    expect(change(id, {"value" => 300})["value"]).to eq(300)
  end

  it "lets two people change different fields of the same record" do
    id = make("deal")["id"]
    change(id, {"value" => 200}, who: "osk", version: 1)
    expect(change(id, {"boat_length" => 7}, version: 1)).to include("value" => 200, "boat_length" => 7)
  end

  it "sets last contact with a call, but not with a note" do
    id = make("deal")["id"]
    root.interactions.log(id, "note", "Looked at the file.", cause:)
    expect(root.records.find!(id)).not_to have_key("last_contact")
    root.interactions.log(id, "call", "Wants the date in writing.", cause: cause(at: Database::NOW + 5))
    expect(root.records.find!(id)["last_contact"]).to eq("2026-11-24T12:00:05.000000Z")
    expect(refused { root.interactions.log(id, "call", " ", cause:) }).to eq(
      "text" => "Write what was said before you log it."
    )
    expect(refused { root.interactions.log(id, "shout", "x", cause:) }.keys).to eq(["way"])
    expect { root.interactions.log(9_999_999, "note", "x", cause:) }.to raise_error(Yenvo::Store::NotFound)
  end

  it "keeps links in step with link fields, and draws plain ones once" do
    aldo = make("contact", "title" => "Aldo Ferrant")["id"]
    ilse = make("contact", "title" => "Ilse Brandt")["id"]
    deal = make("deal", "boat_owner" => aldo)["id"]
    expect(root.links.around(aldo).map { |row| [row[:title], row[:field]] }).to eq([["Quiet Hour", "boat_owner"]])
    change(deal, {"boat_owner" => ilse})
    expect(root.links.around(aldo)).to be_empty
    2.times { root.links.add(deal, aldo, cause:) }
    expect(root.links.around(deal).map { |row| row[:title] }).to eq(["Aldo Ferrant"])
    expect(db[:journal].where(what: "linked").order(:id).select_map(:record_id)).to eq([aldo, ilse, deal, aldo])
    expect(refused { root.links.add(deal, deal, cause:) }.keys).to eq(["target"])
  end
end
