# frozen_string_literal: true

RSpec.describe Yenvo::Store::Finding do
  def find(text, who: "maren", **more)
    described_class.new(root, Yenvo::Store::Sight.new(root, who)).find(text, **more)
      .map { |row| [row[:title], row[:why]] }
  end

  def change_setup
    yield
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
  end

  let!(:aldo) do
    make("contact", "title" => "Aldo Renn", "phone" => "+353 (0)555 014-731", "email" => "aldo@sea.example")["id"]
  end

  it "finds a contact by the last digits of the phone, however they are typed" do
    ["014731", "555 014 731", "+353 0 555 014731", "4731"].each do |text|
      expect(find(text)).to eq([["Aldo Renn", "Phone +353 (0)555 014-731"]]), text
    end
    expect([find("731"), find("0555"), find("914731")]).to eq([[], [], []])
  end

  it "finds by the beginning of an e-mail, by number, and by words of the title, and says by which" do
    expect(find("ALDO@sea")).to eq([["Aldo Renn", "E-mail aldo@sea.example"]])
    expect([find("##{aldo}"), find(aldo.to_s)]).to all(eq([["Aldo Renn", "Number #{aldo}"]]))
    expect([find("renn"), find("aldo")]).to eq([[["Aldo Renn", "Title"]], [["Aldo Renn", "E-mail aldo@sea.example"]]])
    expect([find("%@"), find("___"), find(""), find("9" * 30), find("' OR 1=1")]).to all(eq([]))
    expect(find("4731", kinds: ["deal"])).to eq([])
  end

  it "goes with the phone when that changes, and is indexed anew with its field" do
    root.records.change(aldo, {"phone" => "+44 20 5550 9999"}, cause:)
    expect([find("014731"), find("509999").size]).to eq([[], 1])
    db[:record_index].where(field: "~phone").delete
    root.lists.index_field("contact", root.schema.kind("contact").field("phone"))
    expect(find("509999").size).to eq(1)
    root.records.change(aldo, {"phone" => nil}, cause:)
    expect(find("509999")).to eq([])
  end

  it "finds nothing by what is kept, and nobody who is hidden" do
    change_setup { db[:fields].where(kind: "contact", key: "phone").update(kept: true) }
    expect([find("014731", who: "wen"), find("014731").size]).to eq([[], 1])
    change_setup { db[:kinds].where(key: "contact").update(seen_by: "administrators") }
    expect(["014731", "aldo@sea.example", "##{aldo}", "renn"].flat_map { |text| find(text, who: "wen") }).to eq([])
  end

  it "reads no more rows than it finds" do
    200.times { |n| make("contact", "title" => "C#{n}", "phone" => format("+353 777 %06d", n), "email" => "c#{n}@x.y") }
    expect(rows_read { find("014731") }).to be < 150
  end
end
