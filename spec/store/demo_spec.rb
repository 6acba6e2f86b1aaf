# frozen_string_literal: true

RSpec.describe "The demo's rules" do
  it "can all be published in the boatyard as it is set up, but for those that stay drafts" do
    Demo.publish_rules(root, at: Database::NOW)
    expect(root.rules.all.group_by { |row| row[:state] }.transform_values(&:size)).to eq("on" => 24, "draft" => 2)
    drafts = root.rules.all.select { |row| row[:state] == "draft" }
    expect(drafts.flat_map { |row| Yenvo::Core::Checks.run(root.rules.draft_of(row), root.schema) }).to be_empty
  end
end
