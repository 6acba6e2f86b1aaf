# frozen_string_literal: true

RSpec.describe "The demo's rules" do
  it "can all be published in the boatyard as it is set up, but for those that stay drafts" do
    reach_outside
    Demo.publish_kits(root, at: Database::NOW)
    root.forget
    Demo.publish_rules(root, at: Database::NOW)
    expect(root.rules.all.group_by { |row| row[:state] }.transform_values(&:size)).to eq("on" => 41, "draft" => 2)
    drafts = root.rules.all.select { |row| row[:state] == "draft" }
    expect(drafts.flat_map { |row| Yenvo::Core::Checks.run(root.rules.draft_of(row), root.schema) }).to be_empty
  end

  # Weekends move days of the story together, so that its steps must be told apart by more than their days.
  it "tells of Quiet Hour in its order, whatever the day of the week", :slow do
    14.times.to_a.product([1, 2, 3, 20])
      .each do |day, seed|
        db.transaction(savepoint: true, rollback: :always) do
          story = Demo::Story.new(root, now: Database::NOW + (day * 86_400), seed:)
          story.quiet_hour_alone
          stages =
            db[:journal].where(kind: "deal", what: %w[record_made record_changed]).order(:at, :id).select_map(:after)
              .map { |text| JSON.parse(text)["stage"] }
          expect([day, seed, stages]).to eq([day, seed, %w[enquiry quoted survey_booked]])
        end
      end
  end

  it "has kits that all run to their end, whichever way is taken", :slow do
    reach_outside
    Demo.publish_kits(root, at: Database::NOW)
    root.forget
    dates = {"launch_date" => "2027-02-01", "survey_date" => "2027-01-18"}
    contact = make("contact", "adviser" => "hollie")["id"]
    records = {
      "contact" => contact, "deal" => make("deal", {"boat_owner" => contact, "surveyor" => "ines"}.merge(dates))["id"],
      "ticket" => make("ticket")["id"], "entry/gear_rounds" => make("entry/gear_rounds", "keeper" => "wen")["id"]
    }
    root.schema.kits.all.each do |entry|
      [0, 1, 2].each do |way|
        copy = root.copies.begin(root.schema.kits.compiled(entry.key), records.fetch(entry.kit.kind), cause:)
        60.times do
          open = db[:tasks].where(copy_id: copy[:id], open: true).first or break
          answers = JSON.parse(open[:answers])
          root.tasks.finish(open[:id], answer: answers[way % [answers.size, 1].max], cause:)
          work
        end
        expect([entry.key, way, root.copies.find!(copy[:id])[:state]]).to eq([entry.key, way, "done"])
      end
    end
    expect(db[:journal].where(what: "kit_stuck").count).to eq(0)
  end
end
