# frozen_string_literal: true

RSpec.describe Yenvo::Core::Effects do
  describe Yenvo::Core::Ahead::ThoughtWorld do
    it_behaves_like "a world", described_class
  end

  it "finds the verb of what runs have kept, also of those written before steps were kept with their verb" do
    kept = [
      {"verb" => "change_record", "action" => "assign"}, {"action" => "move"}, {"action" => "task"},
      {"action" => "list", "did" => {"gone" => []}}, {"action" => "list", "did" => {"made" => true}},
      {"action" => "wait"}
    ]
    expect(kept.map { |one| described_class.of(one)::VERB }).to eq(
      %w[change_record change_record make_task take_off_list put_on_list leave_rest]
    )
    expect { described_class.of("verb" => "fly") }.to raise_error(Yenvo::Core::Error, /no verb "fly"/)
  end

  it "is carried out by the method of its name, and taken back by that of its name" do
    world = Class.new do
      def nothing(step) = {"said" => step.words}
      def nothing_back(did) = ["took back #{did["said"]}"]
    end.new
    step = described_class::Nothing.new(action: "none", words: "Nothing to do")
    did = step.carry_out(world)
    expect([did, step.class.take_back(world, did)]).to eq([{"said" => "Nothing to do"}, ["took back Nothing to do"]])
  end
end
