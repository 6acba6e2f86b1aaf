# frozen_string_literal: true

RSpec.describe Yenvo::Core::Receivers::Receiver do
  good = %w[a@b.example aldo.ferrant+keel@sea.example x_1@a-b.c.example o'neil@sea.example A@B.EXAMPLE]
  bad = [
    nil, 5, "", "aldo", "a@b", "@sea.example", "aldo@", "aldo@sea..example", "aldo@.example", "aldo@sea.example.",
    "aldo@-sea.example", "aldo@sea-.example", "a b@sea.example", "a@sea.example, b@sea.example", "a@b@sea.example",
    "aldo@sea.example\n", "aldo@sea.example\r\nBcc: b@sea.example", "<aldo@sea.example>", "größe@sea.example",
    "#{"a" * 190}@sea.example", "aldo@#{"a" * 64}.example"
  ]

  good.each { |address| it("takes #{address}") { expect(described_class).to be_good(address) } }
  bad.each { |one| it("does not take #{one.inspect[0, 60]}") { expect(described_class).not_to be_good(one) } }
end
