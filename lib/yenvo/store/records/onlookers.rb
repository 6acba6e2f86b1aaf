# frozen_string_literal: true

module Yenvo
  module Store
    # Who may hear of what happened: whoever sees the record now, or saw it before, since for them it is gone now.
    class Onlookers < Base
      # @param news [Array<Array(Integer, Integer, Integer)>] entry, record and task of what happened
      # @param persons [Array<String>] keys
      # @return [Hash{String => Array}] by person, the news that are theirs to hear
      def share(news, persons)
        return persons.to_h { |person| [person, news] } if news.empty? || !schema.hides?

        now, owners = places(news.filter_map { |row| row[1] }.uniq), earlier(news.filter_map(&:first))
        persons.to_h do |person|
          access = schema.access(person)
          [person, news.select { |entry, record, _| hears?(access, now[record], owners[entry]) }]
        end
      end

      private

      # What nothing is known of is a number that leads nowhere.
      # @param places [Array<Array(String, String)>, nil] kind and owner of all that has to be seen
      # @param owner [Array<String>, nil] the owner before, where it was another
      def hears?(access, places, owner)
        return true if places.nil? || places.all? { |place| sees?(access, *place) }

        !owner.nil? && [[places[0][0], owner[0]], *places.drop(1)].all? { |place| sees?(access, *place) }
      end

      def sees?(access, kind, owner) = (type = schema.kind(kind)) ? access.may?(:seen_by, type, owner) : access.all?

      # @return [Hash{Integer => Array<Array(String, String)>}] by record: kind and owner of all that has to be seen,
      #   what stands on a list with what was put there
      def places(ids)
        at, link, place = Sequel[:records], Sequel[:links], Sequel[:place]
        about = {link[:record_id] => at[:id], link[:field] => Core::Schema::Kind::ABOUT}
        found = db[:records].left_join(:links, about).left_join(Sequel[:records].as(:place), id: link[:target_id])
        asked = [at[:id], at[:kind], at[:owner], place[:kind].as(:place_kind), place[:owner].as(:place_owner)]
        rows = found.where(at[:id] => ids).select_map(asked)
        rows.to_h { |id, *ends| [id, ends.each_slice(2).select(&:first)] }
      end

      # @return [Hash{Integer => Array<String>}] by entry that gave a record another owner: the one before
      def earlier(entries)
        was, is = %i[before after].map { |column| Sequel.function(:json_value, column, "$.owner") }
        rows = db[:journal].where(id: entries, task_id: nil,
          what: "record_changed").select_map([:id, was.as(:was), is.as(:is)])
        rows.reject { |_, before, after| before == after }.to_h { |id, before, _| [id, [before]] }
      end
    end
  end
end
