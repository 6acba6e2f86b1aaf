# frozen_string_literal: true

RSpec.describe Yenvo::Core::Merging do
  let(:kind) do
    schema = a_schema
    fields = [
      field("title", "Title", "text", built_in: true), field("phone", "Phone", "phone"),
      field("partner", "Partner", "link", links_to: "contact"), field("likes", "Likes", "choices"),
      field("about", "About", "long_text"), field("size", "Size", "number", formula: "1")
    ]
    schema.kind!("contact").class.new(
      key: "contact", label: "Contact", plural: "Contacts", stage_label: "Stage", stages: [], fields: fields.drop(1),
      built_in: [fields[0]]
    )
  end
  let(:images) do
    [
      {"id" => 1, "title" => "Al", "partner" => 2, "likes" => %w[tea], "about" => "Sails.", "size" => 1},
      {"id" => 2, "title" => "Aldo", "phone" => "123", "likes" => %w[rum tea], "partner" => 7, "about" => "Sails."}
    ]
  end

  def merging = described_class.new(kind, images)
  def values(**choices) = merging.values(choices.transform_keys(&:to_s))

  it "keeps what the one has that stays, and fills what it lacks" do
    expect(values).to eq("phone" => "123", "partner" => 7)
    rows = merging.rows.to_h { |row| [row.field.key, [row.choice, row.differs, row.together]] }
    expect(rows).to eq(
      "title" => [1, true, false], "phone" => [2, false, false], "partner" => [2, false, false],
      "likes" => [1, true, true], "about" => [1, false, false]
    )
  end

  it "takes what is chosen, and all of it where values stand beside each other" do
    expect(values(title: 2, likes: "together", phone: 1)).to eq(
      "title" => "Aldo", "likes" => %w[tea rum], "phone" => nil, "partner" => 7
    ).or eq("title" => "Aldo", "likes" => %w[tea rum], "partner" => 7)
  end

  it "refuses what is no choice with a sentence" do
    {
      {title: 9} => /Title takes the value of one/, {title: "together"} => /one value/,
      {size: 1} => /nothing to choose/, {about: "together"} => /one value/
    }.each do |choices, words|
      expect { values(**choices) }.to raise_error(Yenvo::Core::Unreadable, words)
    end
  end
end
