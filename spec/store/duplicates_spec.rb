# frozen_string_literal: true

RSpec.describe Yenvo::Store::Duplicates do
  include MarkedHouse

  def owner(title, **values) = make("contact", {"title" => title, **values.transform_keys(&:to_s)})["id"]
  def sight(who) = Yenvo::Store::Sight.new(root, who)
  def duplicates(who = nil) = described_class.new(root, root.schema.kind!("contact"), sight(who))
  def groups(**more) = duplicates.page(**more)[0].map { |group| [group.why, group.ids] }

  it "finds the same e-mail, last digits of a phone, and words of the title in whatever order" do
    mail = [owner("A", email: "Aldo@Sea.example"), owner("B", email: "aldo@sea.example")]
    phone = [owner("C", phone: "+353 87 123 4567"), owner("D", phone: "087/1234567")]
    title = [owner("Renn, Aldo"), owner("Aldo Renn")]
    both = [owner("Bo Lind", email: "bo@sea.example"), owner("Lind Bo", email: "bo@sea.example")]
    owner("E", phone: "123")
    owner("F", phone: "123")
    owner("Aldo Renn Senior")
    expect(groups).to contain_exactly(
      ["the same e-mail", mail], ["the same e-mail and words in the title", both], ["the same phone", phone],
      ["the same words in the title", title]
    )
  end

  it "leaves out what was said not to be the same, until another comes" do
    ids = [owner("Aldo Renn"), owner("Aldo Renn")]
    duplicates.put_away(ids.reverse, cause: cause("maren"))
    duplicates.put_away(ids, cause: cause("maren"))
    expect(groups).to eq([])
    third = owner("Aldo Renn")
    expect(groups).to eq([["the same words in the title", [*ids, third]]])
    root.trash.remove(third, cause: cause("maren"))
    expect(groups).to eq([])
  end

  it "goes on where a page ends, and ends" do
    140.times { |n| 2.times { owner("T#{n}", email: "a#{n}@sea.example") } }
    seen, after, pages = [], nil, 0
    loop do
      found, after = duplicates.page(after:, limit: 20)
      seen.concat(found.map(&:ids))
      pages += 1
      break unless after
    end
    expect([seen.uniq.size, pages < 12]).to eq([140, true])
  end

  it "shows what few may see to these alone" do
    ids = %w[callum callum osk].map { |one| make("contact", {"title" => "Aldo Renn", "owner" => one})["id"] }
    let_see("contact", "owner")
    expect(duplicates("callum").page[0].map(&:ids)).to eq([ids.first(2)])
    expect(duplicates("osk").page[0]).to eq([])
  end
end
