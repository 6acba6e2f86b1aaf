# frozen_string_literal: true

require "countries"
require "money"

module Yenvo
  module Core
    # Currencies in use, by the codes of ISO 4217 (the money gem's table).
    module Currencies
      Currency = Value.define(:code, :name, :symbol)

      module_function

      # @return [Array<Currency>] those that some country uses today (the countries gem's), by name
      def all
        @all ||= ISO3166::Country.all.map(&:currency_code).uniq.filter_map { |code| Money::Currency.find(code) }
          .map { |one| Currency.new(code: one.iso_code, name: one.name, symbol: symbol(one)) }.sort_by(&:name).freeze
      end

      # @param code [Object]
      # @return [Currency, nil]
      def find(code) = all.find { |one| one.code == code }

      # Where a sign stands for several currencies, or for none, the code says which.
      def symbol(one) = one.symbol.to_s.match?(/\A[€£¥₹₽₺₴₪₩฿₫$]\z/) ? one.symbol : one.iso_code
      private_class_method :symbol
    end
  end
end
