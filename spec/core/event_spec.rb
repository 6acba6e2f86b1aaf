# frozen_string_literal: true

RSpec.describe "Yenvo::Core::Event" do
  it "knows which fields differ: changed, filled in and emptied, without the stamps that Yenvo keeps" do
    images = [nil, "a", "b"].product([nil, "x", false, []]).map { |a, b| {"a" => a, "b" => b, "visit" => 1}.compact }
    images.product(images.map { |image| image.merge("visit" => 2, "since" => {}) }).each do |before, after|
      wanted = (before.keys | after.keys).reject { |key| before[key] == after[key] } - %w[visit since]
      expect(Yenvo::Core::Event.differing(before, after)).to match_array(wanted)
    end
  end
end
