# frozen_string_literal: true

RSpec.describe Yenvo::Store::Merging do
  include LetterWords

  def merge(kept, *others, at: Database::NOW, **choices) =
    described_class.new(root).merge(kept, others, choices.transform_keys(&:to_s), cause: cause("maren", at:))

  def part(kept, at: Database::NOW)
    id = root.merges.open_of(kept, now: at)[0]&.fetch(:id) || db[:merges].max(:id)
    Yenvo::Store::Parting.new(root).part(id, cause: cause("maren", at:))
  end

  def task_on(id, title = "Call") = root.tasks.make({"title" => title, "record_id" => id}, cause: cause)[:id]
  def refused(words) = raise_error(Yenvo::Store::Refused, words)

  let(:aldo) { make("contact", {"title" => "Aldo Renn", "email" => "aldo@sea.example", "club" => "North"})["id"] }
  let(:twin) do
    make("contact", {"title" => "A. Renn", "email" => "a.renn@sea.example", "phone" => "+353 1 234567"})["id"]
  end
  let(:deal) { make("deal", {"title" => "Quiet Hour", "boat_owner" => twin})["id"] }

  # All that is kept of records, but for stamps, versions and the order in which it was written.
  def everything
    tables = %i[interactions attachments deliveries letters proposals notices runs kit_copies tasks links timers
      record_index unique_values form_sends]
    all = tables.to_h do |name|
      rows = db[name].all.map { |row| row.except(:entry_id, :version, :due_at, :since, :look) }
      [name, rows.reject { |row| %w[changed last_contact].include?(row[:field]) }.sort_by(&:to_s)]
    end
    images = db[:records].select_map(:id).sort.map { |id| root.records.find!(id).except("version", "changed", "since") }
    all.merge(images:)
  end

  it "has all that hung on one hang on the other, and parts them as they were", :engine do
    root.files = Dir.mktmpdir
    publish(
      "name" => "Once", "record" => "contact", "how_often" => "once_per_record",
      "trigger" => {"when" => "interaction_logged"},
      "branches" => [{"do" => [
        {"action" => "task", "title" => "Once", "assign" => {"to" => "queue", "queue" => "callbacks"}},
        {"action" => "wait", "for" => {"count" => 3, "unit" => "days", "from" => "now"}},
        {"action" => "task", "title" => "Later", "assign" => {"to" => "queue", "queue" => "callbacks"}}
      ]}]
    )
    task_on(twin)
    root.tasks.finish(task_on(twin, "Done"), cause: cause)
    root.interactions.log(twin, "call", "He rang.", cause: cause)
    root.attachments.add({record_id: twin}, "plan.txt", "a plan", cause: cause)
    friend = make("contact", {"title" => "Bo"})["id"]
    root.links.add(twin, friend, cause: cause)
    root.links.add(friend, aldo, cause: cause)
    other = make("contact", {"title" => "Cy"})["id"]
    root.links.add(other, twin, cause: cause)
    deal && a_sent_mail(twin)
    work
    expect(db[:timers].where(purpose: "wait").select_map(:record_id)).to eq([twin])
    before = everything
    image = merge(aldo, twin, email: twin)
    expect(image).to include("title" => "Aldo Renn", "email" => "a.renn@sea.example", "phone" => "+353 1 234567",
      "club" => "North")
    expect(image["last_contact"]).to be_a(String)
    expect(db[:records].where(id: twin).count).to eq(0)
    expect(root.records.find!(deal)["boat_owner"]).to eq(aldo)
    expect(root.task_rows.about(aldo).select_map(:title)).to contain_exactly("Call", "Done", "Once")
    expect(root.interactions.of_record(aldo).map { |note| note[:text] }).to eq(["He rang."])
    expect(root.links.around(aldo).map { |row| row[:title] }).to contain_exactly("Bo", "Cy", "Quiet Hour")
    expect(db[:timers].where(purpose: "wait").select_map(:record_id)).to eq([aldo])
    told = Yenvo::Store::History.new(root).of_record(aldo).map { |entry| entry["what"] }
    expect(told).to include("record_merged", "merged_away", "interaction_logged")
    # It ran for the one, so it does not run again for both.
    root.interactions.log(aldo, "call", "He rang again.", cause: cause)
    work
    expect(db[:runs].select_map(%i[record_id once_key])).to eq([[aldo, "record:#{aldo}"]])
    db[:interactions].where(text: "He rang again.").delete
    part(aldo)
    work
    expect(everything).to eq(before)
    expect { part(aldo) }.to refused(/parted already/)
    told = Yenvo::Store::History.new(root).of_record(aldo).map { |entry| entry["what"] }
    expect(told).to include("record_parted")
    expect([told.count("interaction_logged"), told.include?("merged_away")]).to eq([1, false])
  end

  it "leaves what came after the merge where it came, and what somebody has changed since" do
    merge(aldo, deal && twin, phone: twin)
    change(aldo, {"phone" => "+353 9 999999"})
    root.interactions.log(aldo, "call", "He rang later.", cause: cause)
    late = make("deal", {"title" => "Later", "boat_owner" => aldo})["id"]
    change(deal, {"boat_owner" => late_owner = make("contact", {"title" => "Dee"})["id"]})
    part(aldo)
    expect(root.records.find!(aldo)).to include("phone" => "+353 9 999999", "email" => "aldo@sea.example")
    expect(root.interactions.of_record(aldo).map { |note| note[:text] }).to eq(["He rang later."])
    expect([late, deal].map { |id| root.records.find!(id)["boat_owner"] }).to eq([aldo, late_owner])
    expect(root.records.find!(twin)["phone"]).to eq("+353 1 234567")
  end

  it "merges several, with what can stand together, and parts in the order in which it merged" do
    third = make("contact", {"title" => "Al"})["id"]
    image = merge(aldo, twin, third, title: third)
    expect(image).to include("title" => "Al", "club" => "North")
    whole = make("contact", {"title" => "Whole"})["id"]
    merge(whole, aldo)
    expect(root.merges.with([whole])).to contain_exactly(whole, aldo, twin, third)
    expect(root.merges.became([twin, whole])).to eq(twin => whole)
    first = db[:merges].min(:id)
    expect { Yenvo::Store::Parting.new(root).part(first, cause: cause) }.to refused(/itself merged with another/)
    2.times { part([whole, aldo].find { |id| root.merges.open_of(id, now: Database::NOW).any? }) }
    titles = [whole, aldo, twin, third].map { |id| root.records.find!(id)["title"] }
    expect(titles).to eq(["Whole", "Aldo Renn", "A. Renn", "Al"])
    expect(root.merges.with([whole])).to eq([whole])
  end

  it "puts what stood on a list twice there once, and back" do
    one = make("deal", {"title" => "Quiet Hour"})["id"]
    other = make("deal", {"title" => "Quiet hour"})["id"]
    entries = [one, other].map { |id| root.list_entries.put_on(id, "entry/launch_roster", cause: cause)["id"] }
    merge(one, other)
    expect(root.list_entries.of(one, "entry/launch_roster")).to eq([entries[0]])
    part(one)
    on = [one, other].to_h { |id| [id, root.list_entries.of(id, "entry/launch_roster")] }
    expect(on).to eq(one => [entries[0]], other => [entries[1]])
  end

  it "frees what stands once for the one that stays" do
    db[:fields].where(kind: "contact", key: "email").update(unique: true)
    root.begin_epoch("setup", who: nil, now: Database::NOW)
    root.forget
    merge(aldo, twin, email: twin)
    expect(root.records.find!(aldo)["email"]).to eq("a.renn@sea.example")
    part(aldo)
    expect([aldo, twin].map { |id| root.records.find!(id)["email"] }).to eq(%w[aldo@sea.example a.renn@sea.example])
  end

  it "says why it does not" do
    deal
    {/from two to 10/ => [[aldo, aldo], [aldo], [aldo, *(100..111)]], /one kind/ => [[aldo, deal]]}.each do |words, all|
      all.each { |ids| expect { merge(*ids) }.to refused(words) }
    end
    expect { merge(aldo, 999) }.to raise_error(Yenvo::Store::NotFound)
    expect { merge(aldo, twin, email: deal) }.to refused(/E-mail takes the value of one of the records/)
    expect { merge(aldo, twin, email: "together") }.to refused(/one value/)
    expect { merge(aldo, twin, nothing: twin) }.to refused(/nothing to choose for "nothing"/)
    merge(aldo, twin)
    expect { merge(aldo, twin) }.to raise_error(Yenvo::Store::NotFound)
    root.trash.remove(aldo, cause: cause("maren"))
    expect { part(aldo) }.to refused(/lies in the trash. Bring that back first/)
    root.trash.put_back(aldo, cause: cause("maren"))
    expect { part(aldo, at: Database::NOW + (31 * 86_400)) }.to refused(/more than 30 days ago/)
    expect(root.merges.purge(now: Database::NOW + (31 * 86_400))).to eq(1)
    expect([db[:merged].get(:image), root.merges.with([aldo])]).to eq([nil, [aldo, twin]])
    expect { part(aldo) }.to refused(/nothing parts them/)
    expect { Yenvo::Store::Parting.new(root).part(99, cause: cause) }.to raise_error(Yenvo::Store::NotFound)
  end

  it "leads what lay in the trash meanwhile to the one that stayed" do
    root.links.add(deal, twin, cause: cause)
    root.trash.remove(deal, cause: cause)
    merge(aldo, twin)
    root.trash.put_back(deal, cause: cause)
    expect(root.records.find!(deal)["boat_owner"]).to eq(aldo)
    expect(root.links.around(aldo).map { |row| row.values_at(:title, :field) }).to contain_exactly(
      ["Quiet Hour", "boat_owner"], ["Quiet Hour", ""]
    )
  end

  it "is told to rules, which meet nothing else of what was moved", :engine do
    to = {"assign" => {"to" => "queue", "queue" => "callbacks"}}
    %w[merged record_changed linked].each do |name|
      record = (name == "record_changed") ? "deal" : "contact"
      publish("name" => name, "record" => record, "trigger" => {"when" => name},
        "branches" => [{"do" => [{"action" => "task", "title" => name, **to}]}])
    end
    deal && aldo
    work
    db[:tasks].delete
    merge(aldo, twin)
    work
    expect(db[:tasks].select_map(%i[title record_id])).to eq([["merged", aldo]])
  end

  it "is erased as one" do
    merge(aldo, twin)
    root.trash.remove(aldo, cause: cause("maren"))
    root.erasing.begin(aldo, cause: cause("maren"))
    root.erasing.some(now: Database::NOW)
    expect(db[:journal].select_map(%i[before after detail]).flatten.compact.join).not_to match(/Renn|234567/)
    expect(db[:merged].select_map(:image) + db[:merges].select_map(:changed)).to eq([nil, nil])
  end
end
