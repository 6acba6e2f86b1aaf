# frozen_string_literal: true

module Yenvo
  module Store
    # Persons, teams and queues.
    class People < Part
      ROLES = %w[administrator lead member].freeze

      # @return [Hash, nil]
      def find(key) = db[:people].where(key: key).first
      def all = db[:people].order(:name).all
      def teams = db[:teams].order(:name).all
      def queues = db[:queues].order(:name).all

      # @return [Hash, nil] the person of a sign-in account
      def of_account(id)
        db[:people].where(key: db[:accounts].where(id: id).select(:person)).where(active: true).first
      end

      # @return [Array<String>] keys of the queues from which a person takes
      def queues_of(person) = person[:team] ? db[:queues].where(team: person[:team]).select_map(:key) : []
    end
  end
end
