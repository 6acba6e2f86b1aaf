# frozen_string_literal: true

module Yenvo
  module Store
    # Records on lists: an entry of a list is a record whose field "about" leads to what was put there.
    class ListEntries < Base
      # @param record_id [Integer]
      # @param list [String] key of the list's kind, such as "entry/launch_roster"
      # @return [Array<Integer>] entries about the record
      def of(record_id, list)
        db[:links].where(target_id: record_id, field: Core::Schema::Kind::ABOUT).join(:records, id: :record_id)
          .where(Sequel[:records][:kind] => list).order(Sequel[:records][:id]).select_map(Sequel[:records][:id])
      end

      # @return [Hash] the image of the new entry
      # @raise [Refused, NotFound]
      def put_on(record_id, list, cause:, section: nil)
        type = schema.kind(list)
        row = root.records.row!(record_id)
        unless type&.about&.links_to == row[:kind]
          what = schema.kind(row[:kind])&.plural&.downcase || "records of that kind"
          refuse("list", "#{type ? type.plural : "That list"} takes no #{what}. Choose another list.")
        end
        refuse("list", "It stands on #{type.plural} already.") if of(record_id, list).any?

        values = {"title" => row[:title], "owner" => row[:owner], "stage" => section}.compact
        root.records.make(list, {**values, Core::Schema::Kind::ABOUT => record_id}, cause:)
      end

      # Takes an entry off its list, with what hangs on it. It lies in the trash for a while.
      # @return [Hash] its last image
      def take_off(entry_id, cause:)
        root.transaction do
          row = root.records.lock(entry_id)
          unless row[:kind].start_with?("entry/")
            refuse("list", "Only entries of lists can be taken off; a #{schema.kind!(row[:kind]).noun} stays.")
          end

          root.trash.take_away(row, "taken_off_list", "“#{row[:title]}” was taken off the list.", cause:)
        end
      end

      # @param image [Hash] as +take_off+ gave it
      def put_back(image, cause:) =
        if root.trash.find(image["id"])
          root.trash.put_back(image["id"], cause:)
        else
          root.records.restore(image, cause:)
        end
    end
  end
end
