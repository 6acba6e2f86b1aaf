# frozen_string_literal: true

# Runs a block for many seeds; a failure names its seed.
module Properties
  # @param cases [Integer] how many seeds
  # @yieldparam chance [Arbitrary]
  def for_many(cases = 300, schema: a_schema)
    PropCheck.forall(PropCheck::Generators.choose(0..1_000_000)).with_config(n_runs: cases)
      .check { |seed| yield Arbitrary.new(seed, schema) }
  end
end
