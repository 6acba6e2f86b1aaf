# frozen_string_literal: true

module Yenvo
  module Web
    # The page that opens an empty house, for whoever has the one-time code.
    class Openings < Base
      # What the page offers to choose from; nothing once the house is open.
      get "/?" do
        answer 200,
          (root.opening.open? ? {
            open: true, zones: [], regions: [],
            currencies: []
          } : {open: false, **Openings.choices})
      end

      post "/?" do
        root.opening.open_with(body_of_call["code"], body_of_call.except("code"), now:)
        answer 201, {ok: true}
      end

      # @return [Hash] zones, regions of public holidays and currencies to choose from
      def self.choices =
        {
          zones: Core::Zone.names, regions: Core::HolidayRegions.all.map { |region| region.slice(:key, :name) },
          currencies: Core::Currencies.all.map { |one| {code: one.code, name: one.name} }
        }
    end
  end
end
