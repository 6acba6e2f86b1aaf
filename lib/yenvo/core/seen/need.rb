# frozen_string_literal: true

module Yenvo
  module Core
    # What has to be loaded before a left side can be looked at. chain: keys of the link fields to follow from the
    # record; over: name of the relation to load there ("ticket.boat", "tasks"), nil for the records of the chain alone.
    Need = Value.define(:chain, :over) do
      # @return [Need] the same, seen from a record that leads here over more links
      def behind(links) = links.empty? ? self : with(chain: [*links, *chain])
    end
  end
end
